// Package table lays a result out as rows and columns: records under the headers that a report gives them, groups with
// their summaries, and both together. The screen, print, workbooks and CSV are laid out by it alike. It computes
// nothing.
package table

import (
	"cmp"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/engine"
	"uzzel/core/schema"
)

// ListColumn is one column of a list.
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
	Own    string `json:"own,omitempty" doc:"An amount as it is recorded, in a currency that is not the organisation's"`
	Hidden bool   `json:"hidden,omitempty" doc:"Whether there is something that is not one's to see"`
}

// Row is one row of a list: the starting record's id and its values.
type Row struct {
	ID    string     `json:"id"`
	Cells []TextCell `json:"cells"`
}

// Columns are the columns of a list, headed and sized as the brief says.
func Columns(l *engine.Records, b *brief.Brief) []ListColumn {
	cols := []ListColumn{}
	for i, v := range l.Columns {
		col := ListColumn{Field: v.Text, Label: heading(v), Kind: v.Kind, To: v.To, Number: v.Kind.Numeric()}
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

// heading is what a column is called that has no label of its own.
func heading(v *brief.Value) string {
	if v.Own != nil {
		return v.Own.Source.Name()
	}
	return v.Label
}

// Rows are the rows of a page, for people.
func Rows(cols []*brief.Value, w chart.Writer, b *brief.Brief, p *engine.Page) []Row {
	rows := make([]Row, 0, len(p.Texts))
	for i := range p.Texts {
		rows = append(rows, row(cols, w, b, p, i))
	}
	return rows
}

func row(cols []*brief.Value, w chart.Writer, b *brief.Brief, p *engine.Page, i int) Row {
	out := Row{ID: p.IDs[i], Cells: make([]TextCell, 0, len(cols))}
	for c, text := range p.Texts[i] {
		v := cols[c]
		cell := TextCell{Text: w.Field(v.Kind, v.Field, text, format(b, c))}
		switch {
		case p.HiddenAt(i, c):
			cell = TextCell{Hidden: true}
		case v.Kind == schema.Link && text != "":
			cell = TextCell{Text: p.NameAt(i, c), ID: text}
		case v.Recorded != nil || p.ForeignAt(i, c).Currency != "":
			f := p.ForeignAt(i, c)
			own := w.In(cmp.Or(f.Currency, w.Currency)).Field(v.Kind, v.Field, f.Text, format(b, c))
			if cell.Own = own; v.Recorded != nil && own != "" {
				cell = TextCell{Text: own}
			}
		}
		out.Cells = append(out.Cells, cell)
	}
	return out
}

func format(b *brief.Brief, c int) *brief.Format {
	if c < len(b.Columns) {
		return b.Columns[c].Format
	}
	return nil
}
