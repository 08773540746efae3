package picture

import "fmt"

// Table is rows under heads.
type Table struct {
	Heads []Head
	Rows  []Row
	More  int // how many rows there are besides
}

// Head is the head of a column.
type Head struct {
	Label string
	Right bool // of numbers
}

// Row is a row of a table.
type Row struct {
	Cells  []string
	Strong bool
	Depth  int // of the first cell, which is set in by it
}

// indent is how far a cell is set in.
func (r *Row) indent(col int) float64 {
	if col > 0 {
		return 0
	}
	return float64(r.Depth) * inset
}

func (r *Row) weight() weight {
	if r.Strong {
		return bold
	}
	return plain
}

const (
	rowHeight = 17.0
	gap       = 10.0 // between columns
	inset     = 12.0 // of a depth
)

// table paints as many rows as there is room for, from one on, and gives the one after the last; heads stand over them.
func (s *sheet) table(t *Table, on tokens, r rect, from int) int {
	size, widths := s.columns(t, r.w)
	high := rowHeight * size / smallSize
	baseline := func(y float64) float64 { return y + high/2 + size*middle }
	y := r.y
	cell := func(c int, text string, w weight, at, indent float64, ink string) {
		x := r.x
		for _, wide := range widths[:c] {
			x += wide + gap
		}
		room := widths[c] - indent
		text = s.l.fit(text, w, size, room)
		if t.Heads[c].Right {
			x += room - s.l.width(text, w, size)
		} else {
			x += indent
		}
		s.write(text, w, size, x, at, ink)
	}
	for c, h := range t.Heads {
		cell(c, h.Label, plain, baseline(y), 0, on.Ink2)
	}
	y += high
	s.box(r.x, y, r.w, 0.8, on.Ink)
	i := from
	for ; i < len(t.Rows) && y+high <= r.y+r.h; i++ {
		row := t.Rows[i]
		w := row.weight()
		for c, text := range row.Cells {
			if c < len(widths) {
				cell(c, text, w, baseline(y), row.indent(c), on.Ink)
			}
		}
		y += high
		s.box(r.x, y-0.4, r.w, 0.4, on.Line)
	}
	return i
}

// first paints the first rows of a table, as many as there is room for, and says how many there are besides.
func (s *sheet) first(t *Table, on tokens, r rect) {
	size, _ := s.columns(t, r.w)
	if t.More > 0 || float64(len(t.Rows)+1)*rowHeight*size/smallSize > r.h {
		r.h -= smallSize * 1.5
	}
	next := s.table(t, on, r, 0)
	if more := len(t.Rows) - next + t.More; more > 0 {
		s.write(fmt.Sprintf("and %d more", more), bold, smallSize, r.x, r.y+r.h+smallSize*1.2, on.Ink2)
	}
}

// columns are the widths of a table's columns, and the size of its letters: numbers have the room that they need, texts
// share the rest.
func (s *sheet) columns(t *Table, room float64) (size float64, widths []float64) {
	const least = 6.0
	for size = smallSize; ; size -= 0.5 {
		widths = make([]float64, len(t.Heads))
		for c, h := range t.Heads {
			widths[c] = s.l.width(h.Label, plain, size)
			if h.Right {
				widths[c] = min(widths[c], 90*size/smallSize)
			}
		}
		for i, row := range t.Rows {
			if i == 400 {
				break
			}
			w := row.weight()
			for c, text := range row.Cells {
				if c < len(widths) {
					widths[c] = max(widths[c], s.l.width(text, w, size)+row.indent(c)+1)
				}
			}
		}
		numbers, texts := gap*float64(len(widths)-1), 0.0
		for c, h := range t.Heads {
			if h.Right {
				numbers += widths[c]
			} else {
				texts += widths[c]
			}
		}
		left := room - numbers
		if left >= texts { // what is left over is everyone's
			for c := range widths {
				widths[c] += (left - texts) / float64(len(widths))
			}
			return size, widths
		}
		if left >= texts*0.55 || size <= least {
			for c, h := range t.Heads {
				if !h.Right && texts > 0 {
					widths[c] *= max(0.1, left/texts)
				}
			}
			return size, widths
		}
	}
}
