package admin_test

import (
	"context"
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
