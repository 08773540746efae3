package answers

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/table"
)

// Copy is a result as it was at one moment, whole: it is read without the records that it is of.
type Copy struct {
	Title     string
	Text      string // the sentence
	Unseen    string
	Count     int64  // of the records that it counts
	Days      string // the days of its period, in words
	Drawing   *chart.Drawing
	Groups    []string // what the lines are by
	Summaries []CopySum
	Lines     []CopyLine // the innermost groups, then the total
	Left      int        // how many lines there were besides
	Columns   []table.SheetColumn
	Records   *CopyRecords // nil where several record types stand side by side
}

// CopySum is a summary of a copy.
type CopySum struct{ Key, Label string }

// CopyLine is a group of a copy, or its total.
type CopyLine struct {
	Key    string   // tells it from other groups
	Labels []string // of its groups; none of the total
	Shown  []string // by summary, as the report shows it
	Plain  []string // by summary, without what the report makes of it
	Values []string // by summary, the same in its CSV form
	File   []string // as it stands in a file
}

// CopyRecords are the records of a copy.
type CopyRecords struct {
	Type    string
	Columns []table.ListColumn
	Sheet   []table.SheetColumn
	Rows    []table.Row
	File    [][]string
	Of      int // how many there were
}

// Limits of a copy.
const (
	MaxCopyLines   = 5_000
	MaxCopyRecords = 10_000
)

// Copy copies what a brief is answered. pinned is the brief whose answer is to be compared with it later: over the same
// days, of the records as they are then.
func (v *View) Copy(ctx context.Context, b *brief.Brief) (c *Copy, pinned *brief.Brief, err error) {
	a, err := v.Ask(ctx, b)
	if err != nil {
		return nil, nil, err
	}
	c = &Copy{
		Title: cmp.Or(a.Drawing.Title, a.Bound.Parts[0].Start().Label), Text: a.Sentence.String(), Unseen: a.Unseen,
		Count: a.Result.Records, Drawing: a.Drawing,
	}
	for _, g := range a.Bound.Groups {
		c.Groups = append(c.Groups, brief.Capital(brief.GroupLabel(g)))
	}
	for i, s := range a.Bound.Summaries {
		c.Summaries = append(c.Summaries, CopySum{s.Source.Key, chart.SummaryName(a.Result, i)})
	}
	sheet := table.Summary(a.Result, a.Writer)
	c.Columns = sheet.Columns
	c.Lines, c.Left = linesOf(a)
	if len(a.Bound.Parts) == 1 {
		if c.Records, err = v.copyRecords(ctx, b); err != nil {
			return nil, nil, err
		}
	}
	pinned = pin(b, a.Result.Span)
	for _, s := range a.Result.Span {
		if s.Now != nil && c.Days == "" {
			c.Days = brief.SpanWords(*s.Now)
		}
	}
	return c, pinned, nil
}

// linesOf are the innermost groups of an answer, as many as are copied, and its total; left is how many there are besides.
func linesOf(a *Answer) (lines []CopyLine, left int) {
	r := a.Result
	if len(r.Bound.Groups) > 0 {
		rows := result.Innermost(r.Rows, r.Bound.Rows)
		cols := result.Innermost(r.Cols, len(r.Bound.Groups)-r.Bound.Rows)
		for _, row := range rows {
			for _, col := range cols {
				if !r.Has(row, col) {
					continue
				}
				if len(lines) == MaxCopyLines {
					left++
					continue
				}
				lines = append(lines, copyLine(a, row, col))
			}
		}
	}
	return append(lines, copyLine(a, 0, 0)), left
}

func copyLine(a *Answer, row, col int) CopyLine {
	r := a.Result
	line := CopyLine{
		Key: strings.Join(append(r.Keys(true, row), r.Keys(false, col)...), "\x00"), File: r.CellTexts(row, col, false),
	}
	line.Labels = append(table.Names(r, a.Writer, true, row), table.Names(r, a.Writer, false, col)...)
	cell := r.Cell(row, col)
	for i, s := range r.Bound.Summaries {
		line.Shown = append(line.Shown, table.Shown(a.Writer, s, cell.Shown[i]))
		line.Plain = append(line.Plain, a.Writer.Value(s.Kind, cell.Plain[i], s.Source.Format))
		line.Values = append(line.Values, r.Text(i, cell.Plain[i], false))
	}
	return line
}

func (v *View) copyRecords(ctx context.Context, b *brief.Brief) (*CopyRecords, error) {
	l, err := v.List(ctx, b)
	if err != nil {
		return nil, err
	}
	n := min(l.Len(), MaxCopyRecords)
	page, err := l.Page(ctx, 0, n)
	if err != nil {
		return nil, err
	}
	out := &CopyRecords{
		Type: l.Bound.Parts[0].Start().Key, Of: l.Len(), Columns: table.Columns(l.Records, b),
		Rows: table.Rows(l.Columns, l.Writer, b, page), Sheet: table.OfRecords(l.Records, b, nil).Columns,
	}
	for line, err := range l.inTurn(ctx, 0, n) {
		if err != nil {
			return nil, err
		}
		out.File = append(out.File, line.Cells)
	}
	return out, nil
}

// pin is a brief over the days that its periods came to, of the records as they are.
func pin(b *brief.Brief, spans []result.Span) *brief.Brief {
	out := *b
	out.AsOf, out.Since, out.Periods = nil, nil, ""
	days := func(p brief.Part, i int) brief.Part {
		if p.Period == nil || i >= len(spans) || spans[i].Now == nil {
			return p
		}
		within := period.Period{}
		if s := spans[i].Now; s.HasFrom {
			within.From = period.FormatDay(s.From)
		}
		if s := spans[i].Now; s.HasTo {
			within.To = period.FormatDay(s.To)
		}
		if within.From == "" && within.To == "" {
			return p
		}
		p.Period = &brief.MainPeriod{Field: p.Period.Field, Within: brief.Period{Period: within}}
		return p
	}
	out.Part = days(b.Part, 0)
	out.Parts = nil
	for i, p := range b.Parts {
		out.Parts = append(out.Parts, days(p, i))
	}
	return &out
}

// Against is a copy beside what its brief is answered now.
type Against struct {
	Summaries []CopySum
	Groups    []string
	Lines     []AgainstLine // the groups that there were, then those that came since; the total last
	Left      int           // how many groups are not compared
}

// AgainstLine is a group then and now; a value is empty where the group was not there.
type AgainstLine struct {
	Labels []string
	Cells  []AgainstCell // by summary
}

// AgainstCell is a value then and now, and the change: with its sign, empty where it cannot be told.
type AgainstCell struct {
	Was, Now, Change string
	Way              int // 1 for more, −1 for less, 0 for neither
}

// Against compares a copy with what its brief is answered now.
func (v *View) Against(ctx context.Context, c *Copy, pinned *brief.Brief) (*Against, error) {
	a, err := v.Ask(ctx, pinned)
	if err != nil {
		return nil, err
	}
	now, left := linesOf(a)
	out := &Against{Groups: c.Groups, Left: max(c.Left, left)}
	type pair struct{ then, now int }
	var pairs []pair
	for k, was := range c.Summaries {
		for i, s := range a.Bound.Summaries {
			if s.Source.Key == was.Key {
				out.Summaries, pairs = append(out.Summaries, was), append(pairs, pair{k, i})
			}
		}
	}
	line := func(then, now *CopyLine) AgainstLine {
		var l AgainstLine
		for _, one := range []*CopyLine{then, now} {
			if one != nil {
				l.Labels = one.Labels
			}
		}
		for _, p := range pairs {
			var cell AgainstCell
			s := a.Bound.Summaries[p.now]
			before, after := exact.Num{}, exact.Num{}
			told := !s.Kind.Dated()
			nothing := s.Formula == nil && slices.Contains([]string{"count", "filled", "distinct", "sum"}, s.Source.Fn)
			read := func(l *CopyLine, at int, shown *string, to *exact.Num) {
				text := ""
				if l != nil {
					*shown, text = l.Plain[at], l.Values[at]
				}
				n, ok := exact.Parse(text)
				*to, told = n, told && (ok || (text == "" && nothing)) // over nothing these come to nothing, an average does not
			}
			read(then, p.then, &cell.Was, &before)
			read(now, p.now, &cell.Now, &after)
			if d := after.Sub(before); told {
				cell.Way = d.Sign()
				cell.Change = amount(a.Writer, s, d)
				if d.Sign() > 0 {
					cell.Change = "+" + cell.Change
				}
			}
			l.Cells = append(l.Cells, cell)
		}
		return l
	}
	by := map[string]*CopyLine{}
	for i := range now {
		by[now[i].Key] = &now[i]
	}
	total := len(c.Lines) - 1
	for i := range c.Lines[:total] {
		was := &c.Lines[i]
		out.Lines = append(out.Lines, line(was, by[was.Key]))
		delete(by, was.Key)
	}
	for i := range now[:len(now)-1] {
		if by[now[i].Key] != nil {
			out.Lines = append(out.Lines, line(nil, &now[i]))
		}
	}
	out.Lines = append(out.Lines, line(&c.Lines[total], &now[len(now)-1]))
	return out, nil
}
