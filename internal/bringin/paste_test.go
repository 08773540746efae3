package bringin_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/internal/bringin"
	"uzzel/internal/demo/demotest"
	"uzzel/internal/fault"
	"uzzel/internal/records"
)

// A block of a spreadsheet: amounts and days in the form of their column, links by name, choices in any case; all or none.
func TestPaste(t *testing.T) {
	a, _ := demotest.App(t)
	ctx := context.Background()
	name := demotest.View(t, a, 2).Snap.Name("customers", 6)
	rows := []bringin.PastedRow{
		{ID: 1, Values: map[string]string{"value": "1.234,50 €", "expected_close": "24.12.2026", "source": "TENDER", "customer": name}},
		{ID: 2, Values: map[string]string{"value": "2.000,00 €", "expected_close": "3.1.2027", "source": "", "customer": "7"}},
	}
	changed, err := a.BringIn.Paste(ctx, demotest.View(t, a, 2), "deals", rows)
	require.NoError(t, err)
	one, err := a.Records.Read(ctx, demotest.View(t, a, 2), "deals", 1)
	require.NoError(t, err)
	require.Equal(t, "1234.50", one.Values["value"])
	require.Equal(t, "2026-12-24", one.Values["expected_close"])
	require.Equal(t, "Tender", one.Values["source"])
	require.Equal(t, "7", one.Values["customer"])
	two, err := a.Records.Read(ctx, demotest.View(t, a, 2), "deals", 2)
	require.NoError(t, err)
	require.Equal(t, "2027-01-03", two.Values["expected_close"])
	require.Empty(t, two.Values["source"])
	left, err := a.Records.TakeBack(ctx, demotest.View(t, a, 2), "deals", changed)
	require.NoError(t, err)
	require.Zero(t, left)

	before, err := a.Records.Read(ctx, demotest.View(t, a, 2), "deals", 1)
	require.NoError(t, err)
	for what, bad := range map[string]map[string]string{
		"no such record": {"customer": "Nobody at all"},
		"no number":      {"value": "much"},
		"no choice":      {"source": "Hearsay"},
		"worked out":     {"weighted": "5"},
	} {
		_, err := a.BringIn.Paste(ctx, demotest.View(t, a, 2), "deals", []bringin.PastedRow{
			{ID: 1, Values: map[string]string{"name": "Changed"}}, {ID: 2, Values: bad}})
		require.Error(t, err, what)
		now, err := a.Records.Read(ctx, demotest.View(t, a, 2), "deals", 1)
		require.NoError(t, err)
		require.Equal(t, before, now, what)
	}
	_, err = a.BringIn.Paste(ctx, demotest.View(t, a, 2), "deals", make([]bringin.PastedRow, records.Most+1))
	require.True(t, fault.Is(err, fault.Invalid))
}
