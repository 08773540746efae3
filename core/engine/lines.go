package engine

import (
	"slices"
	"strings"

	"uzzel/core/schema"
)

// Lines is a table of texts: what the views of docs/brief.md, "Running one without the interface", write.
type Lines struct {
	Header []string
	Rows   [][]string
	Kinds  []schema.Kind // by column; nil where they are not known
	Depths []int         // of an outline, by row: 0 is the total; nil where there is none
}

func (r *Result) summaryHeaders() []string {
	var h []string
	for _, s := range r.Bound.Summaries {
		h = append(h, s.Source.Key)
		if r.a.before != nil {
			h = append(h, s.Source.Key+" before", s.Source.Key+" change", s.Source.Key+" change_percent")
		}
	}
	return h
}

func (r *Result) cellTexts(row, col int, plain bool) []string {
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
func (r *Result) Summary() Lines {
	var out Lines
	parts := len(r.Bound.Parts) > 1
	every := false
	for _, g := range r.Bound.Groups {
		out.Header = append(out.Header, g.Header(parts))
		every = every || g.Group.Every
	}
	out.Header = append(out.Header, r.summaryHeaders()...)
	cols := Innermost(r.Cols, r.cols.depth)
	for _, row := range Innermost(r.Rows, r.rows.depth) {
		for _, col := range cols {
			if len(r.Bound.Groups) > 0 && !every && !r.Has(row, col) {
				continue
			}
			line := append(labels(r.Rows, row), labels(r.Cols, col)...)
			out.Rows = append(out.Rows, append(line, r.cellTexts(row, col, false)...))
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
	return Lines{Header: r.summaryHeaders(), Rows: [][]string{r.cellTexts(0, 0, true)}}
}

// Outline is one line for every group, each before the groups in it, and the total last; groups across are columns, each
// before its subtotal. labels names a group's member, and sums names the summaries.
func (r *Result) Outline(label func(g int, m Member) string, sums []string) Lines {
	out := Lines{}
	for _, g := range r.Bound.Groups[:r.Bound.Rows] {
		out.Header, out.Kinds = append(out.Header, g.Header(len(r.Bound.Parts) > 1)), append(out.Kinds, schema.Text)
	}
	if r.Bound.Rows == 0 {
		out.Header, out.Kinds = append(out.Header, ""), append(out.Kinds, schema.Text)
	}
	var cols []int
	var walk func(n int, names []string)
	walk = func(n int, names []string) {
		for _, k := range r.Cols[n].Children {
			walk(k, slices.Concat(names, []string{label(r.Bound.Rows+r.Cols[n].Depth, r.Cols[k].Member)}))
		}
		cols = append(cols, n)
		for s, sum := range sums {
			name := sum
			switch {
			case len(names) > 0:
				name = strings.Join(names, ", ") + ": " + sum
			case len(r.Cols) > 1:
				name = "All: " + sum
			}
			kind := r.Bound.Summaries[s].Kind
			out.Header, out.Kinds = append(out.Header, name), append(out.Kinds, kind)
			if r.a.before != nil {
				out.Header = append(out.Header, name+", before", name+", change", name+", change in %")
				out.Kinds = append(out.Kinds, kind, kind, schema.Number)
			}
		}
	}
	walk(0, nil)
	wide := max(r.Bound.Rows, 1)
	line := func(n int) {
		cells := make([]string, wide)
		if n == 0 {
			cells[0] = "All"
		} else {
			cells[r.Rows[n].Depth-1] = label(r.Rows[n].Depth-1, r.Rows[n].Member)
		}
		for _, c := range cols {
			cells = append(cells, r.cellTexts(n, c, false)...)
		}
		out.Rows, out.Depths = append(out.Rows, cells), append(out.Depths, r.Rows[n].Depth)
	}
	var down func(n int)
	down = func(n int) {
		for _, k := range r.Rows[n].Children {
			line(k)
			down(k)
		}
	}
	down(0)
	line(0)
	return out
}
