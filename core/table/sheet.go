package table

import (
	"iter"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Sheet is a table for a file: headers as they are shown, values plain, each column with how it is written.
type Sheet struct {
	Columns []SheetColumn
	Outline bool // whether lines have depths that can be folded
	Deepest int  // of an outline: the depth of what is no heading of others
	Rows    iter.Seq2[result.Line, error]
}

// SheetColumn is one column of a sheet.
type SheetColumn struct {
	Label  string
	Kind   schema.Kind // "" where it is not known
	Ratio  bool        // 0.25 stands for 25 %
	Format *brief.Format
}

// Table is the sheet without its looks.
func (s Sheet) Table() result.Table {
	t := result.Table{Rows: s.Rows}
	for _, c := range s.Columns {
		t.Header, t.Kinds = append(t.Header, c.Label), append(t.Kinds, c.Kind)
	}
	return t
}

// Plain is a table whose columns are all that is known of it.
func Plain(t result.Table) Sheet {
	s := Sheet{Rows: t.Rows}
	for i, h := range t.Header {
		c := SheetColumn{Label: h}
		if t.Kinds != nil {
			c.Kind = t.Kinds[i]
		}
		s.Columns = append(s.Columns, c)
	}
	return s
}

// OfRecords is a list of records as a sheet: rows are those of the list's table.
func OfRecords(l *engine.Records, b *brief.Brief, rows iter.Seq2[result.Line, error]) Sheet {
	return Sheet{Columns: recordColumns(l, b), Rows: rows}
}

func recordColumns(l *engine.Records, b *brief.Brief) []SheetColumn {
	var out []SheetColumn
	for i, c := range Columns(l, b) {
		kind := c.Kind
		switch {
		case kind == schema.Link:
			kind = schema.Text // a link is written by its name
		case l.Columns[i].Recorded != nil:
			kind, c.Label = schema.Number, c.Label+", as recorded"
		}
		out = append(out, SheetColumn{Label: c.Label, Kind: kind, Format: format(b, i)})
	}
	return out
}

// Summary is one line for each innermost cell, headed in words: groups, groups across, summaries.
func Summary(r *result.Result, w chart.Writer) Sheet {
	var s Sheet
	for _, g := range r.Bound.Groups {
		s.Columns = append(s.Columns, SheetColumn{Label: brief.Capital(brief.GroupLabel(g)), Kind: schema.Text})
	}
	s.sums(r, "")
	s.Rows = func(yield func(result.Line, error) bool) {
		rows, cols := result.Innermost(r.Rows, r.Bound.Rows), result.Innermost(r.Cols, len(r.Bound.Groups)-r.Bound.Rows)
		every := slices.ContainsFunc(r.Bound.Groups, func(g *brief.BoundGroup) bool { return g.Group.Every })
		for _, row := range rows {
			for _, col := range cols {
				if len(r.Bound.Groups) > 0 && !every && !r.Has(row, col) {
					continue
				}
				cells := append(Names(r, w, true, row), Names(r, w, false, col)...)
				if !yield(result.Line{Cells: append(cells, r.CellTexts(row, col, false)...)}, nil) {
					return
				}
			}
		}
	}
	return s
}

// Names are the labels of a node and those it is in, from the outermost.
func Names(r *result.Result, w chart.Writer, row bool, n int) []string {
	nodes, first := r.Cols, r.Bound.Rows
	if row {
		nodes, first = r.Rows, 0
	}
	list := make([]string, nodes[n].Depth)
	for ; n > 0; n = nodes[n].Parent {
		d := nodes[n].Depth - 1
		list[d] = w.Label(r.Bound.Groups[first+d], nodes[n].Member)
	}
	return list
}

// sums adds the columns of all summaries under a heading.
func (s *Sheet) sums(r *result.Result, heading string) {
	for i, sum := range r.Bound.Summaries {
		name := heading + chart.SummaryName(r, i)
		c := SheetColumn{Label: name, Kind: sum.Kind, Format: sum.Source.Format, Ratio: share(sum)}
		if f := c.Format; f != nil && f.Style == "percent" {
			c.Ratio = true
		}
		if f := c.Format; f != nil && f.Style == "money" {
			c.Kind = schema.Money
		}
		s.Columns = append(s.Columns, c)
		if r.Compared() {
			before := SheetColumn{Label: name + ", before", Kind: sum.Kind, Format: sum.Source.Format}
			change, ratio := before, before
			change.Label, ratio.Label, ratio.Kind, ratio.Ratio = name+", change", name+", change in %", schema.Number, true
			s.Columns = append(s.Columns, before, change, ratio)
		}
	}
}

// Outline is one line for every group, each before the groups in it, and the total last; groups across are columns,
// each before its subtotal. Where records are given, those of an innermost group follow it, in columns of their own
// between the groups' and the summaries'.
func Outline(r *result.Result, w chart.Writer, records *Under) Sheet {
	s := Sheet{Outline: true, Deepest: r.Bound.Rows}
	for _, g := range r.Bound.Groups[:r.Bound.Rows] {
		s.Columns = append(s.Columns, SheetColumn{Label: brief.Capital(brief.GroupLabel(g)), Kind: schema.Text})
	}
	if r.Bound.Rows == 0 {
		s.Columns = append(s.Columns, SheetColumn{Kind: schema.Text})
	}
	labels := len(s.Columns)
	between := 0
	if records != nil {
		cols := recordColumns(records.List, r.Bound.Brief)
		s.Columns, between, s.Deepest = append(s.Columns, cols...), len(cols), r.Bound.Rows+1
	}
	var cols []int
	var walk func(n int, under []string)
	walk = func(n int, under []string) {
		for _, k := range r.Cols[n].Children {
			walk(k, slices.Concat(under, []string{w.Label(r.Bound.Groups[r.Bound.Rows+r.Cols[n].Depth], r.Cols[k].Member)}))
		}
		cols = append(cols, n)
		switch {
		case len(under) > 0:
			s.sums(r, strings.Join(under, ", ")+": ")
		case len(r.Cols) > 1:
			s.sums(r, "All: ")
		default:
			s.sums(r, "")
		}
	}
	walk(0, nil)
	line := func(n int) result.Line {
		cells := make([]string, labels+between, len(s.Columns))
		cells[0] = "All"
		if n > 0 {
			cells[0] = ""
			list := Names(r, w, true, n)
			cells[len(list)-1] = list[len(list)-1]
		}
		for _, c := range cols {
			cells = append(cells, r.CellTexts(n, c, false)...)
		}
		return result.Line{Cells: cells, Depth: r.Rows[n].Depth}
	}
	s.Rows = func(yield func(result.Line, error) bool) {
		var down func(n int) bool
		down = func(n int) bool {
			for _, k := range r.Rows[n].Children {
				if !yield(line(k), nil) || !down(k) {
					return false
				}
				if records == nil || r.Rows[k].Depth < r.Bound.Rows {
					continue
				}
				for row, err := range records.Of(k) {
					if err == nil {
						cells := make([]string, len(s.Columns))
						copy(cells[labels:], row.Cells)
						row = result.Line{Cells: cells, Depth: s.Deepest}
					}
					if !yield(row, err) || err != nil {
						return false
					}
				}
			}
			return true
		}
		if down(0) {
			yield(line(0), nil)
		}
	}
	return s
}

// Under is the records under the groups of an outline.
type Under struct {
	List *engine.Records
	Of   func(node int) iter.Seq2[result.Line, error] // those of a group, links by name
}
