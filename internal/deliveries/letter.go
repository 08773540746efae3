package deliveries

import (
	"bytes"
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/schema"
	"uzzel/core/table"
	"uzzel/internal/answers"
	"uzzel/internal/exchange"
	"uzzel/internal/fault"
	"uzzel/internal/mail"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/picture"
	"uzzel/internal/printing"
	"uzzel/internal/store"
)

//go:embed letter.html
var letterFile embed.FS

var letterPage = template.Must(template.ParseFS(letterFile, "letter.html"))

// Limits of a letter.
const (
	letterRows  = 20 // of a table in a letter; the whole stands in the application and in what goes along
	letterShots = 8  // pictures
	mostSubject = 180
	letterBytes = 15 << 20
	packedBytes = 4 * letterBytes // as JSON
)

// letter is what a mail says.
type letter struct {
	Greeting string // what happened, or "" for what is sent by the clock
	Late     string
	Title    string
	Text     string
	Lines    []string
	Note     string
	Sender   string
	Words    string
	Figures  []figure
	Parts    []part
	Link     string
	Leave    string
	Home     string
	Left     []string // what could not go along, and why
}

// figure is a number with how it changed.
type figure struct{ Name, Value, Change string }

// part is a picture or a table of a letter.
type part struct {
	Title   string
	Picture string // by its name among the letter's
	Words   string
	Table   *picture.Table
	More    int
}

// event is why something is sent.
type event struct {
	occasion string
	said     string      // what happened, "" by the clock
	late     string      // that it comes late, "" where it does not
	only     *brief.Tree // the records that it is about, nil for all
}

// write writes a letter to one recipient, as the recipient sees it.
func (d *Deliveries) write(
	ctx context.Context,
	v *answers.View,
	row store.Delivery,
	t Terms,
	to people.Account,
	e event,
) (mail.Letter, string, error) {
	out := mail.Letter{To: to.Email, Date: d.store.Now().Unix()}
	settings, err := d.mail.Settings(ctx)
	if err != nil {
		return out, "", err
	}
	pr, b, err := d.print(ctx, v, row, t, e)
	if err != nil {
		return out, "", err
	}
	l := letter{
		Greeting: e.said, Late: e.late, Title: pr.Title, Text: pr.Text, Lines: pr.Lines, Note: t.Note,
		Sender: people.Name(v.Snap, row.Owner), Words: t.When.Words(d.number(v, b, t.When.Summary)), Home: settings.Address,
		Figures: figuresOf(pr.Answer),
	}
	if settings.Address != "" {
		l.Link = settings.Address + linkOf(row)
		if l.Leave, err = d.leaveLink(ctx, settings.Address, row.ID, to.ID); err != nil {
			return out, "", err
		}
		out.Leave = strings.Replace(l.Leave, "/leave#", "/api/leave?key=", 1)
	}
	if err := d.parts(ctx, pr, t, &l, &out); err != nil {
		return out, "", err
	}
	d.files(ctx, v, row, t, pr, b, &l, &out)
	out.Subject = subjectOf(row, v, e)
	var page bytes.Buffer
	if err := letterPage.Execute(&page, l); err != nil {
		return out, "", err
	}
	out.HTML, out.Text = page.String(), l.plain()
	return out, l.short(v, t), nil
}

// short is what a letter says in a line: its first numbers, or what moved.
func (l *letter) short(v *answers.View, t Terms) string {
	if t.Since != "" {
		return l.Text
	}
	var list []string
	for _, f := range l.Figures[:min(2, len(l.Figures))] {
		text := brief.Small(f.Name) + " " + f.Value
		if f.Change != "" {
			text += " (" + f.Change + ")"
		}
		list = append(list, text)
	}
	if len(list) == 0 {
		return "as it is on " + v.Figures.Form.Day(v.Day)
	}
	return strings.Join(list, ", ")
}

func linkOf(row store.Delivery) string {
	if row.Kind == store.KindBoard {
		return fmt.Sprintf("/dashboards/%d", row.Item)
	}
	return fmt.Sprintf("/reports/%d", row.Item)
}

func subjectOf(row store.Delivery, v *answers.View, e event) string {
	if e.said != "" {
		return line(row.Title+": "+e.said, mostSubject)
	}
	return line(row.Title+", "+v.Figures.Form.Day(v.Day), mostSubject)
}

// line is a text in one line of so many characters at most.
func line(text string, most int) string {
	text = strings.Join(strings.Fields(text), " ")
	if r := []rune(text); len(r) > most {
		text = string(r[:most-1]) + "…"
	}
	return text
}

// print is what is sent, as its recipient sees it; b is the brief of a report.
func (d *Deliveries) print(
	ctx context.Context,
	v *answers.View,
	row store.Delivery,
	t Terms,
	e event,
) (*printing.Print, *brief.Brief, error) {
	if row.Kind == store.KindBoard {
		pr, err := d.printer.Board(ctx, v, row.Item, nil)
		return pr, nil, err
	}
	asked, title, err := d.asked(ctx, v, row)
	if err != nil {
		return nil, nil, err
	}
	b := *asked
	if t.Since != "" {
		day, err := brief.ParseMoment(t.Since)
		if err != nil {
			return nil, nil, err
		}
		b.Since = &day
	}
	if e.only != nil { // of what happened the records are told, not the whole
		b.Filter = b.Filter.And(*e.only)
		b.Groups, b.Across, b.Chart, b.Compare, b.Target, b.TargetOf, b.Since = nil, nil, nil, "", "", "", nil
	}
	pr, err := d.printer.Brief(ctx, v, title, &b)
	return pr, &b, err
}

// asked is a report's brief as it is asked by a person, with what its owner fixed: of one who may take it out.
func (d *Deliveries) asked(ctx context.Context, v *answers.View, row store.Delivery) (*brief.Brief, string, error) {
	r, err := d.lib.Report(ctx, v, row.Item)
	if err != nil {
		return nil, "", err
	}
	asked, err := d.lib.MayTake(ctx, v, row.Item, r.Brief.Brief())
	return asked, r.Title, err
}

// figuresOf are the totals of an answer, with how they changed.
func figuresOf(a *answers.Answer) []figure {
	if a == nil {
		return nil
	}
	var out []figure
	cell := a.Result.Cell(0, 0)
	for i, s := range a.Result.Bound.Summaries {
		f := figure{Name: chart.SummaryName(a.Result, i), Value: table.Shown(a.Writer, s, cell.Plain[i])}
		if s.Source.Show != "" {
			f.Value = a.Writer.Value(s.Kind, cell.Plain[i], s.Source.Format)
		}
		if cell.Before != nil {
			c := chart.ChangeOf(a.Writer, s.Kind, s.Source.Format, cell, i)
			if c.Text != "" {
				f.Change = c.Text + " from " + c.Before
			}
		}
		out = append(out, f)
	}
	return out
}

// parts puts pictures and tables into a letter.
func (d *Deliveries) parts(ctx context.Context, pr *printing.Print, t Terms, l *letter, out *mail.Letter) error {
	for _, p := range pr.Panels {
		one := part{Title: p.Title, Words: p.Words}
		if p.Drawing != nil && t.Picture && len(out.Pictures) < letterShots {
			alone := printing.Print{Title: p.Title, Text: p.Text, Panels: []picture.Placed{{Panel: p.Panel}}}
			if len(pr.Panels) == 1 {
				alone.Title, alone.Text = "", "" // the letter says them
			}
			data, err := d.printer.Picture(ctx, &alone, printing.Look{Format: "png", Width: 620, Height: 360})
			if err != nil {
				return err
			}
			one.Picture = fmt.Sprintf("picture%d.png", len(out.Pictures)+1)
			if len(pr.Panels) > 1 {
				one.Title = ""
			}
			out.Pictures = append(out.Pictures, mail.File{Name: one.Picture, Type: "image/png", Data: data})
		}
		if p.Table != nil {
			cut := *p.Table
			if len(cut.Rows) > letterRows {
				cut.More += len(cut.Rows) - letterRows
				cut.Rows = cut.Rows[:letterRows]
			}
			one.Table, one.More = &cut, cut.More
		} else if p.Drawing != nil && one.Picture == "" {
			one.Words = p.Text
		}
		if one.Picture != "" || one.Table != nil || one.Words != "" {
			l.Parts = append(l.Parts, one)
		}
	}
	return nil
}

// files puts what is wanted along with a letter; what cannot go is said in it.
func (d *Deliveries) files(
	ctx context.Context,
	v *answers.View,
	row store.Delivery,
	t Terms,
	pr *printing.Print,
	b *brief.Brief,
	l *letter,
	out *mail.Letter,
) {
	size := 0
	for _, p := range out.Pictures {
		size += len(p.Data)
	}
	add := func(kind, ending, typ string, make func() ([]byte, error)) {
		data, err := make()
		if err == nil && size+len(data) > letterBytes {
			err = fault.New(fault.TooLarge, "", "It is larger than %d MB.", letterBytes>>20)
		}
		if err != nil {
			l.Left = append(l.Left, kind+" could not go along: "+said(err))
			return
		}
		size += len(data)
		name := naming.File(row.Title) + " - " + brief.DayWords(v.Day) + "." + ending
		out.Files = append(out.Files, mail.File{Name: name, Type: typ, Data: data})
	}
	if t.PDF {
		add("The pages", "pdf", "application/pdf", func() ([]byte, error) {
			return d.printer.Picture(ctx, pr, printing.Look{Format: "pdf"})
		})
	}
	if t.XLSX && b != nil && b.Since == nil {
		add(
			"The workbook",
			"xlsx",
			"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
			func() ([]byte, error) {
				return workbook(ctx, v, pr.Title, b)
			},
		)
	}
}

func workbook(ctx context.Context, v *answers.View, title string, b *brief.Brief) ([]byte, error) {
	view := "outline"
	if len(b.Groups) == 0 && len(b.Parts) == 0 {
		view = "records"
	}
	t, err := v.Extract(ctx, title, b, b, view, false)
	if err != nil {
		return nil, err
	}
	w := bounded{left: letterBytes}
	err = exchange.WriteXLSX(&w, t.Sheet, exchange.Workbook{
		About: t.About, Currency: brief.Currency(v.Snap.Schema.Settings.Currency), Form: v.Figures.Form,
	})
	return w.data, err
}

// bounded holds so many bytes at most.
type bounded struct {
	data []byte
	left int
}

func (b *bounded) Write(p []byte) (int, error) {
	if b.left -= len(p); b.left < 0 {
		return 0, fault.New(fault.TooLarge, "", "It is larger than %d MB.", letterBytes>>20)
	}
	b.data = append(b.data, p...)
	return len(p), nil
}

// said is what may be said of an error to people.
func said(err error) string {
	var f *fault.Error
	var bad brief.Problems
	if errors.As(err, &f) || errors.As(err, &bad) {
		return err.Error()
	}
	return "something went wrong, and was written down."
}

// plain is a letter without looks.
func (l *letter) plain() string {
	var w strings.Builder
	add := func(text string) {
		if text != "" {
			w.WriteString(text + "\n")
		}
	}
	add(l.Greeting)
	add(l.Late)
	add(l.Title)
	add(l.Text)
	for _, text := range l.Lines {
		add(text)
	}
	if l.Note != "" {
		add("\n" + l.Sender + " writes: " + l.Note)
	}
	w.WriteString("\n")
	for _, f := range l.Figures {
		text := f.Name + ": " + f.Value
		if f.Change != "" {
			text += " (" + f.Change + ")"
		}
		add(text)
	}
	for _, p := range l.Parts {
		if p.Table == nil {
			if p.Words != "" {
				add("\n" + p.Title + "\n" + p.Words)
			}
			continue
		}
		add("\n" + p.Title)
		var heads []string
		for _, h := range p.Table.Heads {
			heads = append(heads, h.Label)
		}
		add(strings.Join(heads, " | "))
		for _, r := range p.Table.Rows {
			add(strings.Repeat("  ", r.Depth) + strings.Join(r.Cells, " | "))
		}
		if p.More > 0 {
			add(fmt.Sprintf("and %d more", p.More))
		}
	}
	for _, text := range l.Left {
		add(text)
	}
	if l.Link != "" {
		add("\nOpen it: " + l.Link)
	}
	add("\n" + l.Sender + " has this sent to you " + l.Words + ". It shows what you may see.")
	if l.Leave != "" {
		add("To get it no longer: " + l.Leave)
	}
	return w.String()
}

// onlyThese is the condition that keeps records of some numbers.
func onlyThese(t *schema.Type, ids []string) *brief.Tree {
	key := "id"
	for _, f := range t.Fields {
		if f.Kind == schema.ID {
			key = f.Key
		}
	}
	return &brief.Tree{Field: key, Is: "any_of", Values: ids}
}
