package engine

import (
	"context"
	"iter"

	"uzzel/core/result"
	"uzzel/core/schema"
)

// tablePage is how many records a table reads at once.
const tablePage = 2 * batchSize

// Table is the whole list as a table for people: links by name, and every column headed by its words.
func (l *Records) Table(ctx context.Context, budget *Budget) result.Table {
	t := result.Table{}
	for c, v := range l.Columns {
		label, kind := l.Labels[c], v.Kind
		if label == "" || label == v.Text {
			label = v.Label
		}
		if kind == schema.Link {
			kind = schema.Text
		}
		t.Header, t.Kinds = append(t.Header, label), append(t.Kinds, kind)
	}
	t.Rows = l.Stretch(ctx, budget, 0, l.n)
	return t
}

// Stretch is the rows from one index up to another, for people: links by name.
func (l *Records) Stretch(ctx context.Context, budget *Budget, from, to int) iter.Seq2[result.Line, error] {
	return func(yield func(result.Line, error) bool) {
		for from := from; from < to; from += tablePage {
			page, err := l.Read(ctx, budget, from, min(from+tablePage, to))
			if err != nil {
				yield(result.Line{}, err)
				return
			}
			for i, cells := range page.Texts {
				for c, names := range page.Names {
					if names != nil {
						cells[c] = names[i]
					}
				}
				if !yield(result.Line{Cells: cells}, nil) {
					return
				}
			}
		}
	}
}
