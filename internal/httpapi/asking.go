package httpapi

import (
	"context"
	"encoding/json"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/desk"
)

// ListColumn is one column of a list of records.
type ListColumn struct {
	Field  string      `json:"field"`
	Label  string      `json:"label"`
	Kind   schema.Kind `json:"kind"`
	To     string      `json:"to" doc:"The record type that its values link to"`
	Number bool        `json:"number" doc:"Whether values are aligned right"`
	Width  int         `json:"width,omitempty" doc:"In pixels, where the brief sets it"`
}

// TextCell is one value of a record, for people.
type TextCell struct {
	Text   string `json:"text"`
	ID     string `json:"id,omitempty" doc:"The record that it links to"`
	Hidden bool   `json:"hidden,omitempty" doc:"Whether there is something that is not one's to see"`
}

// Row is one row of a list: the starting record's id and its values.
type Row struct {
	ID    string     `json:"id"`
	Cells []TextCell `json:"cells"`
}

// ListBody is a page of a list of records.
type ListBody struct {
	Type     string         `json:"type"`
	Total    int            `json:"total"`
	From     int            `json:"from"`
	Columns  []ListColumn   `json:"columns"`
	Rows     []Row          `json:"rows"`
	Sentence []brief.Clause `json:"sentence"`
	Unseen   string         `json:"unseen,omitempty" doc:"What one does not see of what it reads, in words"`
}

// GroupInfo is one field of groups or across.
type GroupInfo struct {
	Field   string `json:"field"`
	Label   string `json:"label"`
	Across  bool   `json:"across"`
	Overlap bool   `json:"overlap" doc:"Whether its groups share records and add up to more than their total"`
}

// SummaryInfo is one summary.
type SummaryInfo struct {
	Key   string `json:"key"`
	Label string `json:"label"`
}

// HeadColumn is one column of the table of groups: a group across, or all of them together.
type HeadColumn struct {
	Labels []string `json:"labels" doc:"From the outermost group across; none for the total"`
	Keys   []string `json:"keys"`
	Total  bool     `json:"total" doc:"Whether it is a subtotal or the total"`
}

// GroupLine is one line of the table of groups.
type GroupLine struct {
	Label  string           `json:"label"`
	Depth  int              `json:"depth" doc:"0 is the total"`
	Keys   []string         `json:"keys"`
	Inner  bool             `json:"inner" doc:"Whether it is an innermost group"`
	Cells  [][]string       `json:"cells" doc:"By column, by summary"`
	Before [][]chart.Change `json:"before,omitempty" doc:"By column, by summary: against the earlier period, where the brief compares"`
	Detail []Row            `json:"detail" doc:"Its first few records"`
	More   int              `json:"more" doc:"How many records it has besides"`
}

// AnswerBody is what a brief comes to.
type AnswerBody struct {
	Sentence  []brief.Clause `json:"sentence"`
	Text      string         `json:"text" doc:"The sentence as plain text"`
	Title     string         `json:"title" doc:"A name for what the report shows"`
	Groups    []GroupInfo    `json:"groups"`
	Summaries []SummaryInfo  `json:"summaries"`
	Columns   []HeadColumn   `json:"columns"`
	Lines     []GroupLine    `json:"lines"`
	Details   []ListColumn   `json:"details" doc:"The columns of the records in the lines"`
	MoreLines int            `json:"moreLines" doc:"How many lines there are besides"`
	Records   int64          `json:"records" doc:"How many records are left"`
	Of        int64          `json:"of" doc:"How many records there are"`
	Unseen    string         `json:"unseen,omitempty" doc:"What one does not see of what it reads, in words"`
	Compared  string         `json:"compared,omitempty" doc:"The earlier period that it is compared with, in words"`
	Drawing   *chart.Drawing `json:"drawing"`
	Kinds     []chart.Offer  `json:"kinds" doc:"Kinds of chart, those that suit best first"`
}

type briefBody struct {
	Body struct {
		Brief Brief `json:"brief"`
		Lines int   `json:"lines,omitempty" doc:"How many lines of groups at most; 500 by default"`
	}
}

type listBody struct {
	Body struct {
		Brief Brief         `json:"brief"`
		From  int           `json:"from,omitempty"`
		Count int           `json:"count,omitempty" doc:"200 by default, 1,000 at most"`
		Part  int           `json:"part,omitempty" doc:"Behind: which of several parts' records"`
		Marks []engine.Mark `json:"marks,omitempty" doc:"Behind: which marks' records"`
	}
}

// ValueBody is a value that a field has.
type ValueBody struct {
	Value string `json:"value"`
	Label string `json:"label"`
	Count int64  `json:"count"`
}

// BinBody is one bar of a spread.
type BinBody struct {
	From  string `json:"from" doc:"Empty for no lower end"`
	To    string `json:"to" doc:"Empty for no upper end"`
	Count int64  `json:"count"`
}

type periodIn struct {
	Body struct {
		Within json.RawMessage `json:"within" doc:"A period as a brief has it"`
	}
}

// PeriodBody is what a period comes to today.
type PeriodBody struct {
	From  string `json:"from" doc:"First day, empty for none"`
	To    string `json:"to" doc:"Last day, empty for none"`
	Dates string `json:"dates" doc:"In words"`
	Today string `json:"today" doc:"in, before or after: where today is"`
	Note  string `json:"note" doc:"The same in words"`
}

func periodBody(s period.Span, today int32) PeriodBody {
	b := PeriodBody{Dates: brief.SpanWords(s), Today: "in", Note: "Today is in it."}
	if s.HasFrom {
		b.From = period.FormatDay(s.From)
	}
	if s.HasTo {
		b.To = period.FormatDay(s.To)
	}
	switch {
	case s.HasFrom && today < s.From:
		b.Today, b.Note = "before", "Today is not in it: it begins after today."
	case s.HasTo && today > s.To:
		b.Today, b.Note = "after", "Today is not in it: it ends before today."
	case s.HasTo && today == s.To:
		b.Note = "Today is in it, as its last day."
	}
	return b
}

type valuesIn struct {
	Start  string `query:"start" required:"true"`
	Path   string `query:"path" required:"true"`
	Search string `query:"search"`
}

func (a *api) asking(g huma.API) {
	huma.Register(g, lenient(op(http.MethodPost, "/api/answer", "answer", "Answer a brief")), func(ctx context.Context, in *briefBody) (*out[AnswerBody], error) {
		b, err := a.asked(ctx, &in.Body.Brief)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		ans, err := a.desk.Ask(ctx, who(ctx), b)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		body := &out[AnswerBody]{}
		err = a.desk.Write(ctx, who(ctx), func(yield func() error) (err error) {
			body.Body, err = answerBody(ans, in.Body.Lines, yield)
			return err
		})
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return body, nil
	})
	list := func(get func(ctx context.Context, in *listBody, b *brief.Brief) (*desk.List, error)) func(ctx context.Context, in *listBody) (*out[ListBody], error) {
		return func(ctx context.Context, in *listBody) (*out[ListBody], error) {
			b, err := a.asked(ctx, &in.Body.Brief)
			if err != nil {
				return nil, a.fail(ctx, err)
			}
			l, err := get(ctx, in, b)
			return a.page(ctx, l, err, in.Body.From, in.Body.Count)
		}
	}
	huma.Register(g, lenient(op(http.MethodPost, "/api/list", "list", "A page of a brief's records")), list(func(ctx context.Context, _ *listBody, b *brief.Brief) (*desk.List, error) {
		return a.desk.List(ctx, who(ctx), b)
	}))
	huma.Register(g, lenient(op(http.MethodPost, "/api/behind", "behind", "The records behind marks")), list(func(ctx context.Context, in *listBody, b *brief.Brief) (*desk.List, error) {
		return a.desk.Behind(ctx, who(ctx), b, in.Body.Part, in.Body.Marks)
	}))
	huma.Register(g, op(http.MethodGet, "/api/spread", "spread", "How the values of a number are spread"), func(ctx context.Context, in *struct {
		Start string `query:"start" required:"true"`
		Path  string `query:"path" required:"true"`
	}) (*out[[]BinBody], error) {
		bins, err := a.desk.Spread(ctx, who(ctx), in.Start, in.Path)
		list := []BinBody{}
		for _, b := range bins {
			list = append(list, BinBody(b))
		}
		return &out[[]BinBody]{list}, a.fail(ctx, err)
	})
	huma.Register(g, lenient(op(http.MethodPost, "/api/period", "period", "What a period comes to today")), func(ctx context.Context, in *periodIn) (*out[PeriodBody], error) {
		within, err := brief.DecodePeriod(in.Body.Within)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		span, err := a.desk.Period(within.Period)
		if err != nil {
			return nil, a.fail(ctx, err)
		}
		return &out[PeriodBody]{periodBody(span, a.desk.Today())}, nil
	})
	huma.Register(g, op(http.MethodGet, "/api/values", "values", "The values that a field has"), func(ctx context.Context, in *valuesIn) (*out[[]ValueBody], error) {
		found, err := a.desk.Values(ctx, who(ctx), in.Start, in.Path, in.Search)
		list := []ValueBody{}
		for _, v := range found {
			list = append(list, ValueBody(v))
		}
		return &out[[]ValueBody]{list}, a.fail(ctx, err)
	})
}

// columnsOf are the columns of a list, headed and sized as the brief says.
func columnsOf(l *engine.Records, b *brief.Brief) []ListColumn {
	cols := []ListColumn{}
	for i, v := range l.Columns {
		col := ListColumn{Field: v.Text, Label: v.Label, Kind: v.Kind, To: v.To, Number: v.Kind.Numeric()}
		if i < len(b.Columns) {
			if given := b.Columns[i]; given.Label != "" {
				col.Label = given.Label
			}
			if f := b.Columns[i].Format; f != nil {
				col.Width = f.Width
			}
		}
		cols = append(cols, col)
	}
	return cols
}

// rowOf is one row of a page, for people.
func rowOf(cols []*brief.Value, w chart.Writer, b *brief.Brief, p *engine.Page, i int) Row {
	row := Row{ID: p.IDs[i], Cells: make([]TextCell, 0, len(cols))}
	for c, text := range p.Texts[i] {
		v := cols[c]
		var f *brief.Format
		if c < len(b.Columns) {
			f = b.Columns[c].Format
		}
		cell := TextCell{Text: w.Inner(v.Kind, text, f)}
		switch {
		case p.HiddenAt(i, c):
			cell = TextCell{Hidden: true}
		case v.Kind == schema.Link && text != "":
			cell = TextCell{Text: p.NameAt(i, c), ID: text}
		}
		row.Cells = append(row.Cells, cell)
	}
	return row
}

// page answers with a page of a list, or with why there is none.
func (a *api) page(ctx context.Context, l *desk.List, err error, from, count int) (*out[ListBody], error) {
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	if count <= 0 {
		count = 200
	}
	from = max(from, 0)
	p, err := l.Page(ctx, from, from+min(count, MaxPage))
	if err != nil {
		return nil, a.fail(ctx, err)
	}
	body := ListBody{Type: l.Bound.Parts[0].Start().Key, Total: l.Len(), From: from, Columns: columnsOf(l.Records, l.Bound.Brief), Rows: []Row{}, Sentence: l.Sentence, Unseen: l.Unseen}
	for i := range p.Texts {
		body.Rows = append(body.Rows, rowOf(l.Columns, l.Writer, l.Bound.Brief, p, i))
	}
	return &out[ListBody]{body}, nil
}

// Limits of one answer: rows of a page, lines and cells of a table.
const (
	MaxPage  = 1000
	MaxLines = 20_000
	MaxCells = 200_000
)

// answerBody writes an answer down, with at most so many lines. It yields before each.
func answerBody(ans *desk.Answer, most int, yield func() error) (AnswerBody, error) {
	r, b := ans.Result, ans.Bound
	body := AnswerBody{Sentence: ans.Sentence, Text: ans.Sentence.String(), Records: r.Records, Of: r.Of, Drawing: ans.Drawing,
		Unseen: ans.Unseen, Title: ans.Drawing.Title, Kinds: chart.Offers(b), Groups: []GroupInfo{}, Details: []ListColumn{}, Columns: []HeadColumn{}, Lines: []GroupLine{}}
	if most <= 0 {
		most = 500
	}
	most = min(most, MaxLines)
	for i, g := range b.Groups {
		body.Groups = append(body.Groups, GroupInfo{g.Values[0].Text, brief.GroupLabel(g), g.Across, r.Overlap[i]})
	}
	for i, s := range b.Summaries {
		body.Summaries = append(body.Summaries, SummaryInfo{s.Source.Key, chart.SummaryName(r, i)})
	}
	for _, span := range r.Span {
		if span.Before != nil {
			body.Compared = brief.SpanWords(*span.Before)
			break
		}
	}
	if ans.Details != nil {
		body.Details = columnsOf(ans.Details.Records, b.Brief)
	}
	t := tabler{ans: ans, body: &body, most: most, yield: yield}
	t.cols(0, nil, nil)
	// A wide table has fewer lines: the rest is counted, and can be asked for narrower, or taken out as a file.
	t.most = max(1, min(t.most, MaxCells/max(1, len(t.at)*len(b.Summaries))))
	if len(b.Groups) > 0 {
		if err := t.lines(0, nil); err != nil {
			return body, err
		}
	}
	t.line(0, "", nil)
	body.Lines[len(body.Lines)-1].Label = "All"
	return body, nil
}

// tabler lays a result out as the table of groups.
type tabler struct {
	ans  *desk.Answer
	body *AnswerBody
	most int
	at   []int // nodes of the columns

	yield func() error
}

// cols adds the columns under a node of across, each group before its subtotal, the total last.
func (t *tabler) cols(n int, labels, keys []string) {
	r := t.ans.Result
	for _, k := range r.Cols[n].Children {
		label := chart.Label(r.Bound.Groups[r.Bound.Rows+r.Cols[n].Depth], r.Cols[k].Member, t.ans.Writer.Cal)
		t.cols(k, slices.Concat(labels, []string{label}), slices.Concat(keys, []string{r.KeyOf(false, k)}))
	}
	t.at = append(t.at, n)
	t.body.Columns = append(t.body.Columns, HeadColumn{Labels: append([]string{}, labels...), Keys: append([]string{}, keys...),
		Total: len(r.Cols[n].Children) > 0 || n == 0})
}

func (t *tabler) lines(n int, keys []string) error {
	r := t.ans.Result
	for _, k := range r.Rows[n].Children {
		if len(t.body.Lines) >= t.most {
			t.body.MoreLines++
			continue
		}
		if err := t.yield(); err != nil {
			return err
		}
		label := chart.Label(r.Bound.Groups[r.Rows[n].Depth], r.Rows[k].Member, t.ans.Writer.Cal)
		inner := slices.Concat(keys, []string{r.KeyOf(true, k)})
		t.line(k, label, inner)
		if err := t.lines(k, inner); err != nil {
			return err
		}
	}
	return nil
}

func (t *tabler) line(n int, label string, keys []string) {
	r, w := t.ans.Result, t.ans.Writer
	line := GroupLine{Label: label, Depth: r.Rows[n].Depth, Keys: append([]string{}, keys...), Detail: []Row{}, Inner: r.Rows[n].Depth == r.Bound.Rows && n > 0}
	for _, c := range t.at {
		cell := r.Cell(n, c)
		texts := []string{}
		for s, sum := range r.Bound.Summaries {
			if show := sum.Source.Show; len(show) > 7 && show[:7] == "percent" {
				texts = append(texts, chart.Ratio(cell.Shown[s]))
			} else {
				texts = append(texts, w.Value(sum.Kind, cell.Shown[s], sum.Source.Format))
			}
		}
		line.Cells = append(line.Cells, texts)
		if cell.Before != nil {
			line.Before = append(line.Before, t.changes(cell))
		}
	}
	if d := t.ans.Details; d != nil && line.Inner {
		for _, i := range d.Of[n] {
			line.Detail = append(line.Detail, rowOf(d.Columns, w, r.Bound.Brief, t.ans.Page, i))
		}
		line.More = d.More[n]
	}
	t.body.Lines = append(t.body.Lines, line)
}

// changes are a cell's summaries against the earlier period.
func (t *tabler) changes(cell engine.Cell) []chart.Change {
	list := []chart.Change{}
	for s, sum := range t.ans.Result.Bound.Summaries {
		list = append(list, chart.ChangeOf(t.ans.Writer, sum.Kind, sum.Source.Format, cell, s))
	}
	return list
}
