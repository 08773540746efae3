package table_test

import (
	"context"
	"iter"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/column"
	"uzzel/core/engine"
	"uzzel/core/result"
	"uzzel/core/schema"
	"uzzel/core/table"
)

// deals are loaded by stage, name and value.
type deals [][3]string

func (d deals) Load(_ context.Context, b *column.Builder) error {
	if b.Type.Key != "deals" {
		return nil
	}
	for i, line := range d {
		b.RowNumber(int64(i + 1))
		for f := range b.Type.Fields {
			for k, key := range []string{"stage", "name", "value"} {
				if b.Type.Fields[f].Key == key {
					if err := b.Set(f, line[k]); err != nil {
						return err
					}
				}
			}
		}
	}
	return nil
}

var three = deals{{"Enquiry", "Gangway", "20"}, {"Ordered", "Pontoon", "700.5"}, {"Enquiry", "Jetty", "5"}}

type laid struct {
	res  *result.Result
	rows *engine.Grouped
	w    chart.Writer
}

func lay(t *testing.T, text string) laid {
	t.Helper()
	s, err := schema.New(schema.Settings{Currency: "EUR", Stages: []schema.Stage{{Name: "Enquiry", Status: "open"}, {Name: "Ordered", Status: "won"}}})
	require.NoError(t, err)
	snap := column.NewSnapshot(s, three)
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	bound, err := brief.Bind(b, s)
	require.NoError(t, err)
	res, rows, err := engine.RunGrouped(context.Background(), snap, bound, engine.Options{})
	require.NoError(t, err)
	return laid{res, rows, chart.Writer{Currency: "EUR", Cal: snap.Cal}}
}

func lines(t *testing.T, s table.Sheet) (list []string) {
	t.Helper()
	var head []string
	for _, c := range s.Columns {
		head = append(head, c.Label)
	}
	list = append(list, strings.Join(head, "|"))
	for l, err := range s.Rows {
		require.NoError(t, err)
		list = append(list, strings.Repeat(" ", l.Depth)+strings.Join(l.Cells, "|"))
	}
	return list
}

const byStage = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"w","fn":"sum","of":"weighted","label":"Weighted"}],
	"columns":[{"field":"name","label":"Deal"},{"field":"value","format":{"width":200}}],"order":[{"field":"value"}]}`

// Every value of an outline is under its own header: those of records beside those of summaries.
func TestOutlineWithItsRecords(t *testing.T) {
	l := lay(t, byStage)
	under := &table.Under{List: l.rows.Records, Of: func(n int) iter.Seq2[result.Line, error] {
		for _, run := range l.rows.Runs {
			if run.Node == n {
				return l.rows.Stretch(context.Background(), nil, run.First, run.First+run.Count)
			}
		}
		return func(func(result.Line, error) bool) {}
	}}
	s := table.Outline(l.res, l.w, under)
	require.Equal(t, []string{"Stage|Deal|Value|Deals|Weighted", " Enquiry|||2|", "  |Jetty|5.00||", "  |Gangway|20.00||", " Ordered|||1|", "  |Pontoon|700.50||", "All|||3|"}, lines(t, s))
	require.Equal(t, 2, s.Deepest)
	require.Equal(t, []string{"Stage|Deals|Weighted", " Enquiry|2|", " Ordered|1|", "All|3|"}, lines(t, table.Outline(l.res, l.w, nil)))
	require.Equal(t, []string{"Stage|Deals|Weighted", "Enquiry|2|", "Ordered|1|"}, lines(t, table.Summary(l.res, l.w)))
}

// Groups come with where their records are; a table that is too long is cut, counted and has its total all the same.
func TestGroupsAndPlaces(t *testing.T) {
	l := lay(t, byStage)
	never := func() error { return nil }
	g, err := table.OfGroups(l.res, l.w, 100, never)
	require.NoError(t, err)
	require.Equal(t, []string{"Enquiry", "Ordered", "All"}, []string{g.Lines[0].Label, g.Lines[1].Label, g.Lines[2].Label})
	require.Equal(t, []table.GroupPlace{{Keys: g.Lines[0].Keys, First: 0, Count: 2}, {Keys: g.Lines[1].Keys, First: 2, Count: 1}}, table.Places(l.res, l.rows.Runs))
	g, err = table.OfGroups(l.res, l.w, 1, never)
	require.NoError(t, err)
	require.Len(t, g.Lines, 2)
	require.Equal(t, 1, g.MoreLines)
	require.Equal(t, "3", g.Lines[1].Cells[0][0], "the total is of all of them")
	_, err = table.OfGroups(l.res, l.w, 100, func() error { return context.Canceled })
	require.ErrorIs(t, err, context.Canceled)
}

// Columns are headed and sized as the report says.
func TestColumns(t *testing.T) {
	l := lay(t, byStage)
	cols := table.Columns(l.rows.Records, l.res.Bound.Brief)
	require.Equal(t, "Deal", cols[0].Label)
	require.Equal(t, "Value", cols[1].Label)
	require.Equal(t, 200, cols[1].Width)
	page, err := l.rows.Read(context.Background(), nil, 0, 1)
	require.NoError(t, err)
	rows := table.Rows(l.rows.Columns, l.w, l.res.Bound.Brief, page)
	require.Equal(t, []table.TextCell{{Text: "Jetty"}, {Text: "€5.00"}}, rows[0].Cells)
}
