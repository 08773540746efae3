// Package printing puts reports, dashboards and what moved into pictures and onto pages, as one person sees them: for
// files, mails and programs.
package printing

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/boards"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/picture"
	"uzzel/internal/store"
)

// Printer prints what an organisation keeps.
type Printer struct {
	lib      *library.Library
	boards   *boards.Boards
	painters picture.Painters
}

// New gives a printer of what is kept.
func New(lib *library.Library, bs *boards.Boards) *Printer { return &Printer{lib: lib, boards: bs} }

// MostRows is how many rows of a list, or lines of groups, stand on pages at most.
const MostRows = 2000

const mostDots = 16_000_000 // of a picture

// Look is how a picture is asked for. Its size is in pixels.
type Look struct {
	Format        string  // svg, png or pdf
	On            string  // paper or ink
	Width, Height float64 // 0 for 900 by 520
	Fine          float64 // dots a pixel, of a PNG; 0 for 2
}

// Formats are those of pictures.
var Formats = []string{"svg", "png", "pdf"}

// Check says what is wrong with a look; what it leaves out is as usual.
func (l *Look) Check() error {
	if l.Width == 0 {
		l.Width = 900
	}
	if l.Height == 0 {
		l.Height = 520
	}
	if l.Fine == 0 {
		l.Fine = 2
	}
	switch {
	case !slices.Contains(Formats, l.Format):
		return fault.New(fault.Invalid, "/format", "A picture is svg, png or pdf, not %q.", l.Format)
	case l.Width < 120 || l.Width > 3000 || l.Height < 80 || l.Height > 3000:
		return fault.New(fault.Invalid, "/width", "A picture is 120 to 3,000 pixels wide and 80 to 3,000 high.")
	case l.Fine < 1 || l.Fine > 3 || l.Width*l.Height*l.Fine*l.Fine > mostDots:
		return fault.New(fault.Invalid, "/fine", "A picture has 1 to 3 dots a pixel, and 16 million at most.")
	}
	return nil
}

// Print is something that is printed: its title, what is said of it, and what it shows.
type Print struct {
	Title  string
	Text   string // the sentence
	Lines  []string
	Panels []picture.Placed
	Wide   bool
	Answer *answers.Answer // of a report; nil of a dashboard
}

// Picture paints a print: all of it on pages, or its first panel.
func (p *Printer) Picture(ctx context.Context, pr *Print, l Look) ([]byte, error) {
	if err := l.Check(); err != nil {
		return nil, err
	}
	if l.Format == "pdf" {
		return p.painters.PDF(ctx, picture.Document{
			Title: pr.Title, Lines: append([]string{pr.Text}, pr.Lines...), Panels: pr.Panels, Wide: pr.Wide,
		})
	}
	if len(pr.Panels) == 0 {
		return nil, fault.New(fault.Invalid, "", "There is nothing here to be painted.")
	}
	panel := pr.Panels[0].Panel
	panel.Title, panel.Text = pr.Title, pr.Text
	if panel.Note == "" {
		panel.Note = strings.Join(pr.Lines, " · ")
	}
	if l.Format == "svg" {
		return p.painters.SVG(ctx, panel, l.On, l.Width, l.Height)
	}
	return p.painters.PNG(ctx, panel, l.On, l.Width, l.Height, l.Fine)
}

// Report prints a report as a person reads it. What its owner does not let out is refused.
func (p *Printer) Report(ctx context.Context, v *answers.View, id int64) (*Print, error) {
	r, err := p.lib.Report(ctx, v, id)
	if err != nil {
		return nil, err
	}
	asked, err := p.lib.MayTake(ctx, v, id, r.Brief.Brief())
	if err != nil {
		return nil, err
	}
	return p.Brief(ctx, v, r.Title, asked)
}

// Brief prints what a brief is answered.
func (p *Printer) Brief(ctx context.Context, v *answers.View, title string, b *brief.Brief) (*Print, error) {
	if b.Since != nil {
		return p.moved(ctx, v, title, b)
	}
	a, err := v.Ask(ctx, b)
	if err != nil {
		return nil, err
	}
	lines := []string{seen(v)}
	if a.Unseen != "" {
		lines = append(lines, brief.Capital(a.Unseen))
	}
	pr, err := viewed(v, b, a).Print(ctx, title, a.Sentence.String(), lines...)
	if err == nil {
		pr.Answer = a
	}
	return pr, err
}

// Answered is what a brief was answered, however it was asked.
type Answered struct {
	Brief   *brief.Brief
	Result  *result.Result
	Writer  chart.Writer
	Drawing *chart.Drawing
	// List gives the first records of the brief's list.
	List func(ctx context.Context, most int) (*engine.Records, *engine.Page, error)
}

func viewed(v *answers.View, b *brief.Brief, a *answers.Answer) Answered {
	return Answered{
		Brief: b, Result: a.Result, Writer: a.Writer, Drawing: a.Drawing,
		List: func(ctx context.Context, most int) (*engine.Records, *engine.Page, error) {
			l, err := v.List(ctx, b)
			if err != nil {
				return nil, nil, err
			}
			page, err := l.Page(ctx, 0, min(l.Len(), most))
			return l.Records, page, err
		},
	}
}

// Print is an answer by itself.
func (a Answered) Print(ctx context.Context, title, text string, lines ...string) (*Print, error) {
	if title == "" {
		title = a.Drawing.Title
	}
	panel, err := a.panel(ctx, true)
	return &Print{
		Title: title, Text: text, Lines: lines, Panels: []picture.Placed{{Panel: panel}},
		Wide: panel.Table != nil && len(panel.Table.Heads) > 7,
	}, err
}

// panel is what an answer shows: a drawing, a table of its groups or of its records; a drawing with its groups where both
// are wanted.
func (a Answered) panel(ctx context.Context, both bool) (panel picture.Panel, err error) {
	b := a.Result.Bound
	grouped, asTable := len(b.Groups) > 0, a.Brief.Chart != nil && a.Brief.Chart.Kind == "table"
	if (grouped && !asTable) || chart.OneNumber(a.Drawing.Kind) {
		panel.Drawing, panel.Share = a.Drawing, a.Brief.Chart != nil && a.Brief.Chart.Measure == "share"
		if !both || !grouped {
			return panel, nil
		}
	}
	if grouped || len(b.Parts) > 1 {
		panel.Table, err = a.groups()
	} else {
		panel.Table, err = a.records(ctx)
	}
	return panel, err
}

func (a Answered) groups() (*picture.Table, error) {
	g, err := table.OfGroups(a.Result, a.Writer, MostRows, func() error { return nil })
	if err != nil {
		return nil, err
	}
	t := &picture.Table{More: g.MoreLines}
	var by []string
	for _, one := range g.Groups {
		if !one.Across {
			by = append(by, one.Label)
		}
	}
	t.Heads = []picture.Head{{Label: brief.Capital(strings.Join(by, ", then "))}}
	for _, c := range g.Columns {
		labels := slices.Clone(c.Labels)
		if c.Total && len(g.Columns) > 1 {
			labels = append(labels, "all")
		}
		for _, s := range g.Summaries {
			parts := labels
			if len(g.Summaries) > 1 || len(labels) == 0 {
				parts = append(slices.Clone(labels), s.Label)
			}
			t.Heads = append(t.Heads, picture.Head{Label: strings.Join(parts, ", "), Right: true})
		}
	}
	deepest := len(by)
	for _, l := range g.Lines {
		row := picture.Row{Cells: []string{l.Label}, Depth: max(0, l.Depth-1), Strong: l.Depth < deepest || l.Depth == 0}
		for _, cells := range l.Cells {
			row.Cells = append(row.Cells, cells...)
		}
		t.Rows = append(t.Rows, row)
	}
	return t, nil
}

func (a Answered) records(ctx context.Context) (*picture.Table, error) {
	l, page, err := a.List(ctx, MostRows)
	if err != nil {
		return nil, err
	}
	t := &picture.Table{More: l.Len() - len(page.IDs)}
	for _, c := range table.Columns(l, a.Brief) {
		t.Heads = append(t.Heads, picture.Head{Label: c.Label, Right: c.Number})
	}
	for _, r := range table.Rows(l.Columns, a.Writer, a.Brief, page) {
		row := picture.Row{}
		for _, c := range r.Cells {
			if c.Hidden {
				c.Text = "not yours to see"
			}
			row.Cells = append(row.Cells, c.Text)
		}
		t.Rows = append(t.Rows, row)
	}
	return t, nil
}

// moved prints what moved in a report.
func (p *Printer) moved(ctx context.Context, v *answers.View, title string, b *brief.Brief) (*Print, error) {
	m, err := v.Moves(ctx, b)
	if err != nil {
		return nil, err
	}
	return Moved("What moved: "+title, m, seen(v)), nil
}

// Moved is what moved as it is printed: the sentence, the bridge, and its steps as a table.
func Moved(title string, m *answers.Moves, lines ...string) *Print {
	return &Print{
		Title: title, Text: m.Text, Lines: append([]string{m.Sentence.String()}, lines...),
		Panels: []picture.Placed{{Panel: picture.Panel{Drawing: m.Drawing, Table: movesTable(m)}}},
	}
}

func movesTable(m *answers.Moves) *picture.Table {
	t := &picture.Table{Heads: []picture.Head{{Label: "Step"}, {Label: "Records", Right: true}}}
	for _, s := range m.Summaries {
		t.Heads = append(t.Heads, picture.Head{Label: s, Right: true})
	}
	for _, s := range m.Steps {
		row := picture.Row{Cells: append([]string{s.Words, fmt.Sprint(s.Records)}, s.Values...), Strong: s.Total}
		t.Rows = append(t.Rows, row)
	}
	return t
}

// Board prints a dashboard as a person reads it, under its filters and those that are given besides.
func (p *Printer) Board(ctx context.Context, v *answers.View, id int64, f *board.Filters) (*Print, error) {
	b, err := p.lib.Board(ctx, v, id)
	if err != nil {
		return nil, err
	}
	if f == nil {
		f = &board.Filters{}
		if b.Filters != "" {
			if err := json.Unmarshal([]byte(b.Filters), f); err != nil {
				return nil, err
			}
		}
	}
	said, err := v.SayFilters(*f)
	if err != nil {
		return nil, err
	}
	pr := &Print{Title: b.Title, Text: filtersText(said), Lines: []string{seen(v)}, Wide: true}
	var asks []boards.PanelAsk
	var at []int
	pr.Panels = make([]picture.Placed, len(b.Panels))
	for i, panel := range b.Panels {
		o, err := optionsOf(panel)
		if err != nil {
			return nil, err
		}
		pr.Panels[i] = picture.Placed{X: panel.X, Y: panel.Y, W: panel.W, H: panel.H}
		switch {
		case panel.Report != 0:
			asks, at = append(asks, boards.PanelAsk{Report: panel.Report, Options: o}), append(at, i)
		case o.Kept != 0:
			pr.Panels[i].Panel = picture.Panel{Words: "A result that was kept; it is read where it was kept."}
		default:
			pr.Panels[i].Panel = picture.Panel{Words: o.Words, Heading: o.Section}
		}
	}
	errs := make([]error, len(asks))
	p.boards.Panels(ctx, v, *f, asks, func(i int, s boards.PanelShown, err error) {
		if err == nil {
			pr.Panels[at[i]].Panel, err = p.placed(ctx, v, asks[i].Options, s)
		}
		errs[i] = err
	})
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	for i, err := range errs {
		if err != nil {
			pr.Panels[at[i]].Panel = picture.Panel{Title: asks[i].Options.Heading, Words: whyNot(err)}
		}
	}
	return pr, nil
}

func optionsOf(p store.Panel) (o board.Options, err error) {
	if p.Options != "" {
		err = json.Unmarshal([]byte(p.Options), &o)
	}
	return o, err
}

// placed is a panel of a dashboard as it is painted.
func (p *Printer) placed(
	ctx context.Context,
	v *answers.View,
	o board.Options,
	s boards.PanelShown,
) (picture.Panel, error) {
	name := o.Heading
	if name == "" {
		name = s.Report.Title
	}
	if s.Report.NoDownload && !s.Report.MayChange {
		return picture.Panel{
			Title: name,
			Words: s.Report.OwnerName + " does not let this be taken out. It can be read in Uzzel.",
		}, nil
	}
	asked, err := s.Report.Asked(s.Brief)
	if err != nil {
		return picture.Panel{}, err
	}
	var panel picture.Panel
	if o.Moved != "" {
		day, err := brief.ParseMoment(o.Moved)
		if err != nil {
			return panel, err
		}
		since := *asked
		since.Since = &day
		m, err := v.Moves(ctx, &since)
		if err != nil {
			return panel, err
		}
		panel = picture.Panel{Text: m.Text, Drawing: m.Drawing}
	} else if o.Stood != "" {
		unit := period.Unit(o.Stood)
		st, err := v.Stood(ctx, asked, unit, answers.StoodPoints[unit], o.Kind == "line")
		if err != nil {
			return panel, err
		}
		panel = picture.Panel{Text: s.Answer.Sentence.String(), Below: st.Words(unit), Drawing: st.Drawing}
	} else if panel, err = viewed(v, asked, s.Answer).panel(ctx, false); err != nil {
		return panel, err
	} else {
		panel.Text = s.Answer.Sentence.String()
	}
	panel.Title, panel.Note = name, o.Source
	if o.Below != "" {
		panel.Below = o.Below
	}
	return panel, nil
}

// whyNot says why a panel is not there, and nothing of the program's own.
func whyNot(err error) string {
	var f *fault.Error
	var bad brief.Problems
	switch {
	case fault.Is(err, fault.NotFound):
		return "The report that stands here was deleted, or is not open to you."
	case errors.As(err, &f), errors.As(err, &bad):
		return "This could not be worked out: " + err.Error()
	}
	return "This could not be worked out."
}

// filtersText says what a dashboard is narrowed to.
func filtersText(f answers.FiltersSaid) string {
	var list []string
	if f.Whose != "" {
		list = append(list, "of "+f.Whose)
	}
	if f.Period != "" {
		text := f.Period
		if f.Dates != "" {
			text += " (" + f.Dates + ")"
		}
		list = append(list, text)
	}
	list = append(list, f.Fields...)
	if f.AsOf != "" {
		list = append(list, f.AsOf)
	}
	if len(list) == 0 {
		return "All records"
	}
	return brief.Capital(strings.Join(list, ", "))
}

// seen says whose eyes it is seen through, and when.
func seen(v *answers.View) string { return "As " + v.Who.Name + " sees it, " + v.Moment() }
