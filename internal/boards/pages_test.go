package boards_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/boards"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/library"
)

// A report stands on the pages of customers in several lights: of the customer, of it and all below it, of the one above
// it, of all. Each shows exactly the deals that are theirs.
func TestInWhatLight(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, admin := context.Background(), demotest.View(t, a, 2)
	b, err := brief.Decode([]byte(`{"version":1,"start":"deals","groups":[{"field":"stage"}],"totalsOnly":true,"chart":{"kind":"bar"}}`))
	require.NoError(t, err)
	folders, err := a.Library.Folders(ctx, admin)
	require.NoError(t, err)
	folder := int64(0)
	for _, f := range folders {
		if f.Name == "Company" {
			folder = f.ID
		}
	}
	r, err := a.Library.KeepNew(ctx, admin, library.Keep{Title: "Deals in a light", Folder: folder, Brief: b})
	require.NoError(t, err)
	require.NoError(t, a.Boards.PutOnPage(ctx, admin, "customers", r.ID))

	deals := func(field, id string) int64 {
		list, err := admin.List(ctx, &brief.Brief{Version: 1, Part: brief.Part{
			Start: "deals", Filter: &brief.Tree{Field: field, Is: "any_of", Values: []string{id}}}})
		require.NoError(t, err)
		return int64(list.Len())
	}
	shown := func(id string) (n int64, words string) {
		a.Boards.Panels(ctx, admin, board.Filters{}, []boards.PanelAsk{{Report: r.ID, Type: "customers", ID: id}},
			func(_ int, p boards.PanelShown, err error) {
				require.NoError(t, err)
				n, words = p.Answer.Result.Records, p.Words
			})
		return n, words
	}
	// A customer that has a parent above it which itself has none.
	below, err := admin.List(ctx, &brief.Brief{Version: 1, Part: brief.Part{
		Start: "customers", Filter: &brief.Tree{Field: "parent", Is: "filled"}}, Columns: []brief.Column{{Field: "parent"}}})
	require.NoError(t, err)
	page, err := below.Page(ctx, 0, 1)
	require.NoError(t, err)
	site, parent := page.IDs[0], page.Texts[0][0]
	n, words := shown(parent)
	require.Equal(t, deals("customer", parent), n)
	require.Equal(t, "deals of this customer", words)

	set := func(light string) error {
		return a.Boards.SetLook(ctx, admin, "customers", r.ID, boards.Look{Link: "customer", Light: light, Heading: "Ours", Tall: 400})
	}
	require.NoError(t, set(boards.LightBelow))
	n, words = shown(parent)
	require.Equal(t, deals("customer.top", parent), n)
	require.Greater(t, n, deals("customer", parent), "a group has more than its own")
	require.Equal(t, "deals of this customer and all below it", words)
	n, _ = shown(site)
	require.Equal(t, deals("customer", site), n, "nothing is below a site")

	require.NoError(t, set(boards.LightParent))
	n, words = shown(site)
	require.Equal(t, deals("customer", parent), n)
	require.Equal(t, "deals of the customer above this", words)

	require.NoError(t, set(boards.LightAll))
	n, _ = shown(site)
	require.Equal(t, int64(2600), n)

	require.True(t, fault.Is(set("moon"), fault.Invalid))
	require.True(t, fault.Is(a.Boards.SetLook(ctx, admin, "customers", r.ID, boards.Look{Link: "owner"}), fault.Invalid))
	require.True(t, fault.Is(a.Boards.SetLook(ctx, demotest.View(t, a, 1), "customers", r.ID, boards.Look{Link: "customer"}), fault.Forbidden))
	_, panels, err := a.Boards.Record(ctx, admin, "customers", site)
	require.NoError(t, err)
	require.NoError(t, a.Boards.OrderPage(ctx, admin, "customers", []int64{r.ID}))
	_, after, err := a.Boards.Record(ctx, admin, "customers", site)
	require.NoError(t, err)
	require.Len(t, after, len(panels))
	require.Equal(t, r.ID, after[0].Report.ID)
	require.Equal(t, "Ours", after[0].Heading)
}

// Reports that can stand on a page come first, with what they would show; of the others it is said why they cannot.
func TestPlaceables(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, admin := context.Background(), demotest.View(t, a, 2)
	list, err := a.Boards.Placeables(ctx, admin, "products")
	require.NoError(t, err)
	require.NotEmpty(t, list)
	cannot := false
	for _, p := range list {
		require.Equal(t, p.Words == "", p.Why != "")
		require.False(t, cannot && p.Why == "", "those that can come first")
		cannot = cannot || p.Why != ""
		require.Contains(t, p.Words+p.Why, "product", p.Report.Title)
	}
	require.True(t, cannot)
}

// The ways from a report's records to those of a page: over one link, over two, told apart where there are several.
func TestWaysTo(t *testing.T) {
	a, _ := demotest.App(t)
	v := demotest.View(t, a, 2)
	ways := func(start, to string) []library.Way {
		return library.WaysTo(v, &brief.Brief{Version: 1, Part: brief.Part{Start: start}}, to)
	}
	require.Equal(t, []library.Way{{Path: "customer", Words: "deals of this customer"}, {Path: "contact.customer", Words: "deals of contacts of this customer"}}, ways("deals", "customers"))
	require.Equal(t, "deal.customer", ways("lines", "customers")[0].Path)
	require.Empty(t, ways("products", "customers"))
	require.Empty(t, ways("", "customers"))
}
