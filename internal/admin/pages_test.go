package admin_test

import (
	"context"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/admin"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
)

// A team sees pages as they are laid out for it, others as for all; what cannot be is refused, and it is taken back.
func TestPageLayouts(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, osric, maite := context.Background(), demotest.View(t, a, 2), demotest.View(t, a, 1)
	all := &admin.PageLayout{First: []string{"segment", "size"}, Lists: []string{"deals"},
		Sections: []admin.Section{{Heading: " Where it is ", Fields: []string{"city", "country"}}}}
	require.True(t, fault.Is(a.Admin.SetPageLayout(ctx, maite, "customers", 0, all, 0), fault.Forbidden))
	require.NoError(t, a.Admin.SetPageLayout(ctx, osric, "customers", 0, all, 0))
	require.True(t, fault.Is(a.Admin.SetPageLayout(ctx, osric, "customers", 0, all, 0), fault.Stale))
	got, err := a.Admin.PageFor(ctx, maite, "customers")
	require.NoError(t, err)
	require.Equal(t, "Where it is", got.Sections[0].Heading)

	require.NoError(t, a.Admin.SetPageLayout(ctx, osric, "customers", maite.Who.TeamID, &admin.PageLayout{First: []string{"city"}}, 0))
	got, err = a.Admin.PageFor(ctx, maite, "customers")
	require.NoError(t, err)
	require.Equal(t, []string{"city"}, got.First)
	got, err = a.Admin.PageFor(ctx, osric, "customers")
	require.NoError(t, err)
	require.Equal(t, []string{"segment", "size"}, got.First)

	for what, bad := range map[string]*admin.PageLayout{
		"no such field":  {First: []string{"shoe_size"}},
		"no such link":   {Lists: []string{"berths"}},
		"no heading":     {Sections: []admin.Section{{Fields: []string{"city"}}}},
		"twice":          {Sections: []admin.Section{{Heading: "A", Fields: []string{"city"}}, {Heading: "B", Fields: []string{"city"}}}},
		"too many first": {First: []string{"name", "segment", "kind", "source", "size", "city", "region"}},
	} {
		require.True(t, fault.Is(a.Admin.SetPageLayout(ctx, osric, "customers", 0, bad, 1), fault.Invalid), what)
	}
	require.True(t, fault.Is(a.Admin.SetPageLayout(ctx, osric, "boats", 0, nil, 0), fault.NotFound))
	require.True(t, fault.Is(a.Admin.SetPageLayout(ctx, osric, "customers", 99, nil, 0), fault.NotFound))
	require.NoError(t, a.Admin.SetPageLayout(ctx, osric, "customers", 0, nil, 1))
	got, err = a.Admin.PageFor(ctx, osric, "customers")
	require.NoError(t, err)
	require.Nil(t, got)
}

// What is being laid out is kept for its person alone, as long as it is not saved, notices another window, and may be
// without headings still, but names nothing that there is not.
func TestPageDrafts(t *testing.T) {
	a, _ := demotest.App(t)
	ctx, osric, maite := context.Background(), demotest.View(t, a, 2), demotest.View(t, a, 1)
	laid := admin.PageDraft{Layout: admin.PageLayout{First: []string{"city"}, Sections: []admin.Section{{Fields: []string{"region"}}}}}
	_, err := a.Admin.KeepPageDraft(ctx, maite, "customers", 0, laid)
	require.True(t, fault.Is(err, fault.Forbidden))
	none, err := a.Admin.PageDraft(ctx, osric, "customers", 0)
	require.NoError(t, err)
	require.Zero(t, none)

	kept, err := a.Admin.KeepPageDraft(ctx, osric, "customers", 0, laid)
	require.NoError(t, err)
	require.Equal(t, 1, kept.Revision)
	_, err = a.Admin.KeepPageDraft(ctx, osric, "customers", 0, laid)
	require.True(t, fault.Is(err, fault.Stale), "another window has begun one")
	kept.Layout.First = []string{"city", "segment"}
	next, err := a.Admin.KeepPageDraft(ctx, osric, "customers", 0, kept)
	require.NoError(t, err)
	_, err = a.Admin.KeepPageDraft(ctx, osric, "customers", 0, kept)
	require.True(t, fault.Is(err, fault.Stale), "another window has gone on")
	got, err := a.Admin.PageDraft(ctx, osric, "customers", 0)
	require.NoError(t, err)
	require.Equal(t, next, got)
	team, err := a.Admin.PageDraft(ctx, osric, "customers", maite.Who.TeamID)
	require.NoError(t, err)
	require.Zero(t, team, "each team's pages are laid out by themselves")
	page, err := a.Admin.PageFor(ctx, osric, "customers")
	require.NoError(t, err)
	require.Nil(t, page, "nobody sees it before it is saved")

	for what, bad := range map[string]admin.PageDraft{
		"no such field": {Layout: admin.PageLayout{First: []string{"shoe_size"}}},
		"too long":      {Layout: admin.PageLayout{Sections: []admin.Section{{Heading: strings.Repeat("x", 81)}}}},
	} {
		_, err := a.Admin.KeepPageDraft(ctx, osric, "customers", maite.Who.TeamID, bad)
		require.True(t, fault.Is(err, fault.Invalid), what)
	}
	require.NoError(t, a.Admin.DropPageDraft(ctx, osric, "customers", 0))
	none, err = a.Admin.PageDraft(ctx, osric, "customers", 0)
	require.NoError(t, err)
	require.Zero(t, none)
}
