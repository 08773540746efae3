package result

import (
	"iter"

	"uzzel/core/schema"
)

// Lines is a table of texts: what the views of docs/brief.md, "Running one without the interface", write.
type Lines struct {
	Header []string
	Rows   [][]string
	Kinds  []schema.Kind // by column; nil where they are not known
}

// Table is a table of texts that is written out line by line, so that none of it need be held as a whole.
type Table struct {
	Header []string
	Kinds  []schema.Kind // by column; nil where they are not known
	Rows   iter.Seq2[Line, error]
}

// Line is one line of a table. Depth is that of an outline: 0 is the total, the groups follow from outside in, then the
// records; without an outline all lines have depth 0.
type Line struct {
	Cells []string
	Depth int
}

// Table is the lines as a table that is written out.
func (l Lines) Table() Table {
	t := Table{Header: l.Header, Kinds: l.Kinds}
	t.Rows = func(yield func(Line, error) bool) {
		for _, row := range l.Rows {
			if !yield(Line{Cells: row}, nil) {
				return
			}
		}
	}
	return t
}

func (r *Result) summaryHeaders() []string {
	var h []string
	for _, s := range r.Bound.Summaries {
		h = append(h, s.Source.Key)
		if r.Compared() {
			h = append(h, s.Source.Key+" before", s.Source.Key+" change", s.Source.Key+" change_percent")
		}
	}
	return h
}

// CellTexts writes a cell, a text for each summary; where the brief compares, followed by what was before, the change
// and the change as a ratio. Shown as each summary is, or plain.
func (r *Result) CellTexts(row, col int, plain bool) []string {
	var t []string
	c := r.Cell(row, col)
	for s := range r.Bound.Summaries {
		if plain {
			t = append(t, r.Text(s, c.Plain[s], false))
		} else {
			t = append(t, r.Text(s, c.Shown[s], true))
		}
		if c.Before != nil {
			ratio := ""
			if c.ChangePercent[s].Set {
				ratio = c.ChangePercent[s].Num.String()
			}
			t = append(t, r.Text(s, c.Before[s], false), r.Text(s, c.Change[s], false), ratio)
		}
	}
	return t
}

// Innermost lists the innermost nodes of rows or across in result order, node 0 where there are no such groups.
func Innermost(nodes []Node, depth int) []int {
	var list []int
	var walk func(n int)
	walk = func(n int) {
		if nodes[n].Depth == depth {
			list = append(list, n)
		}
		for _, k := range nodes[n].Children {
			walk(k)
		}
	}
	walk(0)
	return list
}

// Summary is one line for each innermost cell that has rows, or that every lists.
func (r *Result) Summary() Lines { return r.SummaryTable().lines() }

// lines is a whole table that is worked out without fail.
func (t Table) lines() Lines {
	out := Lines{Header: t.Header, Kinds: t.Kinds}
	for line, err := range t.Rows {
		if err != nil {
			break // not of a table that is worked out already
		}
		out.Rows = append(out.Rows, line.Cells)
	}
	return out
}

// SummaryTable is Summary, written out line by line.
func (r *Result) SummaryTable() Table {
	var out Table
	parts := len(r.Bound.Parts) > 1
	every := false
	for _, g := range r.Bound.Groups {
		out.Header = append(out.Header, g.Header(parts))
		every = every || g.Group.Every
	}
	out.Header = append(out.Header, r.summaryHeaders()...)
	cols := Innermost(r.Cols, len(r.Bound.Groups)-r.Bound.Rows)
	out.Rows = func(yield func(Line, error) bool) {
		for _, row := range Innermost(r.Rows, r.Bound.Rows) {
			for _, col := range cols {
				if len(r.Bound.Groups) > 0 && !every && !r.Has(row, col) {
					continue
				}
				line := append(labels(r.Rows, row), labels(r.Cols, col)...)
				if !yield(Line{Cells: append(line, r.CellTexts(row, col, false)...)}, nil) {
					return
				}
			}
		}
	}
	return out
}

func labels(nodes []Node, n int) []string {
	list := make([]string, nodes[n].Depth)
	for ; n > 0; n = nodes[n].Parent {
		list[nodes[n].Depth-1] = nodes[n].Label
	}
	return list
}

// Totals is one line of the grand totals, always plain.
func (r *Result) Totals() Lines {
	return Lines{Header: r.summaryHeaders(), Rows: [][]string{r.CellTexts(0, 0, true)}}
}
