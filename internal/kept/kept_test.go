package kept_test

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/exchange"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/records"
	"uzzel/internal/store"

	"bytes"
)

func parsed(t *testing.T, text string) *brief.Brief {
	t.Helper()
	b, err := brief.Decode([]byte(text))
	require.NoError(t, err)
	return b
}

const byStage = `{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},
 "columns":[{"field":"name"},{"field":"value"}],"groups":[{"field":"stage"}],
 "summaries":[{"key":"n","fn":"count"},{"key":"t","fn":"sum","of":"value"},{"key":"share","fn":"sum","of":"value","show":"percent_of_total"},{"key":"a","fn":"average","of":"value"}]}`

// What is kept stays what it was whatever happens to the records, is compared with what they are now over the same days,
// each value under its own name, and can be taken out when they are gone.
func TestKeptStaysAsItWas(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	me := func() *answers.View { return demotest.View(t, a, 2) }
	k, err := a.Kept.Keep(ctx, me(), 0, parsed(t, byStage), " Before the review ")
	require.NoError(t, err)
	require.Equal(t, "Before the review", k.Name)
	require.Equal(t, "2026-05-14", k.Day)
	was, err := a.Kept.Open(ctx, me(), k.ID)
	require.NoError(t, err)
	c := was.Copy
	require.Equal(t, "1 Apr – 30 Jun 2026", c.Days)
	require.Len(t, c.Records.Rows, c.Records.Of)
	require.Equal(t, int(c.Count), c.Records.Of)
	file := func(r *answers.Extract) string {
		var w bytes.Buffer
		_, err := exchange.WriteCSV(&w, r.Table(), true)
		require.NoError(t, err)
		return w.String()
	}
	for _, view := range []string{"summary", "records"} {
		live, err := me().Extract(ctx, "", parsed(t, byStage), parsed(t, byStage), view, false)
		require.NoError(t, err)
		then, err := was.Extract(me(), view)
		require.NoError(t, err)
		require.Equal(t, file(live), file(then), "what is taken out of it is what would have been taken out then: %s", view)
	}
	ag, err := a.Kept.Against(ctx, me(), k.ID)
	require.NoError(t, err)
	for _, l := range ag.Lines {
		for i, cell := range l.Cells {
			require.Equal(t, cell.Was, cell.Now, "%v %v", l.Labels, ag.Summaries[i])
			require.Zero(t, cell.Way)
		}
	}

	// The first of its groups loses all its records, another gets one of them.
	first := c.Lines[0]
	var gone []int64
	list, err := me().List(ctx, parsed(t, fmt.Sprintf(`{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"filter":{"field":"stage","is":"any_of","values":[%q]}}`, first.Labels[0])))
	require.NoError(t, err)
	page, err := list.Page(ctx, 0, list.Len())
	require.NoError(t, err)
	for _, id := range page.IDs {
		var n int64
		_, err := fmt.Sscan(id, &n)
		require.NoError(t, err)
		gone = append(gone, n)
	}
	_, err = a.Records.Change(ctx, me(), "deals", []records.Edit{{ID: gone[0], Values: records.Values{"stage": c.Lines[1].Labels[0], "value": "1000000.00"}}})
	require.NoError(t, err)
	require.NoError(t, a.Records.Delete(ctx, me(), "deals", gone[1:]))

	again, err := a.Kept.Open(ctx, me(), k.ID)
	require.NoError(t, err)
	require.Equal(t, c, again.Copy)
	require.NotNil(t, again.Copy.Drawing)
	ag, err = a.Kept.Against(ctx, me(), k.ID)
	require.NoError(t, err)
	require.Len(t, ag.Lines, len(c.Lines))
	require.Equal(t, first.Labels, ag.Lines[0].Labels)
	require.Equal(t, first.Plain[0], ag.Lines[0].Cells[0].Was)
	require.Empty(t, ag.Lines[0].Cells[0].Now, "no longer there")
	require.Equal(t, "−"+first.Plain[0], ag.Lines[0].Cells[0].Change, "a count comes to nothing")
	require.Equal(t, -1, ag.Lines[0].Cells[1].Way)
	require.Empty(t, ag.Lines[0].Cells[3].Change, "an average of nothing is no number")
	require.Equal(t, "+1", ag.Lines[1].Cells[0].Change)
	require.NotContains(t, ag.Lines[0].Cells[2].Was, "%", "values are compared, not what is shown of them")
	total := ag.Lines[len(ag.Lines)-1]
	require.Empty(t, total.Labels)
	require.Equal(t, -1, total.Cells[0].Way)
}

// What is kept is its owner's alone: nobody else reads, names or deletes it, nor is it kept of what somebody else sees or
// an owner does not let out.
func TestKeptIsOnesOwn(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, me := context.Background(), demotest.View(t, a, 2)
	k, err := a.Kept.Keep(ctx, me, 0, parsed(t, byStage), "")
	require.NoError(t, err)
	require.NotEmpty(t, k.Name, "called as what it shows")
	other := demotest.View(t, a, 1)
	_, err = a.Kept.Open(ctx, other, k.ID)
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = a.Kept.Against(ctx, other, k.ID)
	require.True(t, fault.Is(err, fault.NotFound))
	require.True(t, fault.Is(a.Kept.Name(ctx, other, k.ID, "Mine"), fault.NotFound))
	require.True(t, fault.Is(a.Kept.Delete(ctx, other, k.ID), fault.NotFound))
	list, err := a.Kept.Of(ctx, other, 0)
	require.NoError(t, err)
	require.Empty(t, list)

	seen := *me
	seen.Who.SeenBy = 1
	_, err = a.Kept.Keep(ctx, &seen, 0, parsed(t, byStage), "")
	require.True(t, fault.Is(err, fault.Forbidden))

	require.NoError(t, a.Kept.Name(ctx, me, k.ID, "Spring"))
	list, err = a.Kept.Of(ctx, me, 0)
	require.NoError(t, err)
	require.Equal(t, "Spring", list[0].Name)
	require.Nil(t, list[0].Copy, "a list is light")
	require.NoError(t, a.Kept.Delete(ctx, me, k.ID))
	_, err = a.Kept.Open(ctx, me, k.ID)
	require.True(t, fault.Is(err, fault.NotFound))
}

// A reader keeps what a report with fixed conditions showed; the conditions are in nothing that is handed out, and hold
// for what it is compared with. When the report is gone it can still be read.
func TestKeptOfFixedConditions(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, owner, reader := context.Background(), demotest.View(t, a, 2), demotest.View(t, a, 4)
	folder, err := a.Library.KeepFolder(ctx, owner, store.Folder{Name: "Open to all", Access: []store.Access{{Kind: store.ForEveryone}}}, 0)
	require.NoError(t, err)
	b := parsed(t, `{"version":1,"start":"deals","filter":{"all":[{"field":"value","is":"over","values":["41000"],"fixed":true}]},"summaries":[{"key":"n","fn":"count"}]}`)
	r, err := a.Library.KeepNew(ctx, owner, library.Keep{Title: "Large", Folder: folder.ID, Brief: b})
	require.NoError(t, err)
	shown, err := a.Library.Report(ctx, reader, r.ID)
	require.NoError(t, err)
	k, err := a.Kept.Keep(ctx, reader, r.ID, shown.Brief.Brief(), "")
	require.NoError(t, err)
	got, err := a.Kept.Open(ctx, reader, k.ID)
	require.NoError(t, err)
	require.NotContains(t, fmt.Sprintf("%+v %+v", got.Copy, got.Brief), "41000")
	ag, err := a.Kept.Against(ctx, reader, k.ID)
	require.NoError(t, err)
	require.Equal(t, ag.Lines[0].Cells[0].Was, ag.Lines[0].Cells[0].Now, "it is compared under the same conditions")
	require.NoError(t, a.Library.DeleteReport(ctx, owner, r.ID))
	_, err = a.Kept.Against(ctx, reader, k.ID)
	require.True(t, fault.Is(err, fault.NotFound))
	_, err = a.Kept.Open(ctx, reader, k.ID)
	require.NoError(t, err)
}
