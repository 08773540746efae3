package printing_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/app"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/printing"
	"uzzel/internal/store"
)

func open(t *testing.T) (*app.App, int64) {
	t.Helper()
	a, _ := demotest.App(t)
	f, err := a.Library.KeepFolder(context.Background(), demotest.View(t, a, 2), store.Folder{Name: "Open to all", Access: []store.Access{{Kind: store.ForEveryone}}}, 0)
	require.NoError(t, err)
	return a, f.ID
}

func kept(t *testing.T, a *app.App, k library.Keep, text string) int64 {
	t.Helper()
	var err error
	k.Brief, err = brief.Decode([]byte(text))
	require.NoError(t, err)
	r, err := a.Library.KeepNew(context.Background(), demotest.View(t, a, 2), k)
	require.NoError(t, err)
	return r.ID
}

const byStage = `{"version":1,"start":"deals","groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"}],"chart":{"kind":"column"}}`

// A dashboard is printed with each panel as it stands there: a drawing, a list, words, what moved; what its owner does not
// let out is not on it, and a report that is gone does not take the others with it.
func TestBoard(t *testing.T) {
	a, f := open(t)
	ctx, owner := context.Background(), demotest.View(t, a, 2)
	drawn := kept(t, a, library.Keep{Title: "By stage", Folder: f}, byStage)
	list := kept(t, a, library.Keep{Title: "All", Folder: f}, `{"version":1,"start":"deals","filter":{"field":"value","is":"over","values":["200000"]},"columns":[{"field":"name"},{"field":"value"}]}`)
	held := kept(t, a, library.Keep{Title: "Held", Folder: f, NoDownload: true}, byStage)
	gone := kept(t, a, library.Keep{Title: "Gone", Folder: f}, byStage)
	panels := []store.Panel{
		{Report: drawn, W: 6, H: 9},
		{Report: list, X: 6, W: 6, H: 9, Options: `{"heading":"Large ones"}`},
		{W: 12, H: 1, Y: 9, Options: `{"words":"And then","section":true}`},
		{Report: held, Y: 10, W: 6, H: 9},
		{Report: gone, Y: 10, X: 6, W: 6, H: 9},
		{Report: drawn, Y: 19, W: 6, H: 9, Options: `{"moved":"last_month"}`},
	}
	b, err := a.Boards.Add(ctx, owner, store.Board{Title: "Monday", Folder: f, Panels: panels})
	require.NoError(t, err)
	require.NoError(t, a.Library.DeleteReport(ctx, owner, gone))
	reader := demotest.View(t, a, 4)
	pr, err := a.Printer.Board(ctx, reader, b.ID, nil)
	require.NoError(t, err)
	require.Equal(t, "Monday", pr.Title)
	require.Equal(t, "All records", pr.Text)
	require.Contains(t, pr.Lines[0], "As "+reader.Who.Name+" sees it, 14 May 2026")
	require.NotNil(t, pr.Panels[0].Drawing)
	require.Equal(t, "By stage", pr.Panels[0].Title)
	require.Equal(t, "Large ones", pr.Panels[1].Title)
	require.NotEmpty(t, pr.Panels[1].Table.Rows)
	require.Equal(t, []string{"Name", "Value"}, []string{pr.Panels[1].Table.Heads[0].Label, pr.Panels[1].Table.Heads[1].Label})
	require.True(t, pr.Panels[2].Heading)
	require.Contains(t, pr.Panels[3].Words, "does not let this be taken out")
	require.Nil(t, pr.Panels[3].Drawing)
	require.Contains(t, pr.Panels[4].Words, "was deleted")
	require.Contains(t, pr.Panels[5].Text, "than on 30 Apr 2026")
	data, err := a.Printer.Picture(ctx, pr, printing.Look{Format: "pdf"})
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(string(data), "%PDF-"))
}

// A report is printed with its groups under its drawing, and refused where its owner does not let it out or it is not open.
func TestReport(t *testing.T) {
	a, f := open(t)
	ctx, reader := context.Background(), demotest.View(t, a, 4)
	id := kept(t, a, library.Keep{Title: "By stage", Folder: f}, byStage)
	pr, err := a.Printer.Report(ctx, reader, id)
	require.NoError(t, err)
	p := pr.Panels[0]
	require.NotNil(t, p.Drawing)
	last := p.Table.Rows[len(p.Table.Rows)-1]
	require.Equal(t, "All", last.Cells[0])
	require.True(t, last.Strong)
	require.Equal(t, pr.Answer.Result.Totals().Rows[0][0], strings.ReplaceAll(last.Cells[1], ",", ""), "each number under its own head")
	require.Equal(t, "Deals", p.Table.Heads[1].Label)
	held := kept(t, a, library.Keep{Title: "Held", Folder: f, NoDownload: true}, byStage)
	_, err = a.Printer.Report(ctx, reader, held)
	require.True(t, fault.Is(err, fault.Forbidden))
	_, err = a.Printer.Report(ctx, reader, 9999)
	require.True(t, fault.Is(err, fault.NotFound))
}

// What is asked of a picture is held to what a machine can paint.
func TestLooks(t *testing.T) {
	for _, l := range []printing.Look{
		{Format: "gif"}, {Format: "png", Width: 5000}, {Format: "png", Height: 10}, {Format: "png", Fine: 9},
		{Format: "png", Width: 3000, Height: 3000, Fine: 2}, {Format: "png", Width: -1},
	} {
		require.True(t, fault.Is(l.Check(), fault.Invalid), "%+v", l)
	}
	l := printing.Look{Format: "svg"}
	require.NoError(t, l.Check())
	require.Equal(t, 900.0, l.Width)
}
