package engine_test

import (
	"context"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/brief"
	"uzzel/core/engine"
	"uzzel/core/result"
)

// What is behind a mark is what its conditions ask for, whatever it is grouped by.
func TestConditionsOfMarks(t *testing.T) {
	snap := snapshot(t, harbour)
	ctx, opts := context.Background(), engine.Options{Today: today}
	asked := 0
	for _, groups := range []string{
		`"groups":[{"field":"customer"}]`, `"groups":[{"field":"customer.segment"},{"field":"stage"}]`, `"groups":[{"field":"expected_close","by":"month"}]`,
		`"groups":[{"field":"created","by":"fiscal_year"}],"across":[{"field":"owner"}]`, `"groups":[{"field":"customer","top":{"n":1,"by":"v"}}]`,
		`"own":[{"key":"size","bands":{"of":"value","edges":["100","300"]}}],"groups":[{"field":"own.size"}]`, `"groups":[{"field":"value"}]`,
		`"blank":false,"groups":[{"field":"customer"},{"field":"closed","by":"week"}]`,
	} {
		text := `{"version":1,"start":"deals","summaries":[{"key":"v","fn":"sum","of":"value"}],` + groups + `}`
		b := bind(t, snap, text)
		r, err := engine.Run(ctx, snap, b, opts)
		require.NoError(t, err)
		for n := range r.Rows {
			for c := range r.Cols {
				if !r.Has(n, c) {
					continue
				}
				mark := result.Mark{Rows: r.Keys(true, n), Across: r.Keys(false, c)}
				want, err := engine.Behind(ctx, snap, b, opts, 0, []result.Mark{mark})
				require.NoError(t, err)
				cond, err := engine.Conditions(ctx, snap, b, opts, 0, []result.Mark{mark})
				require.NoError(t, err)
				plain := brief.Brief{Version: 1, Part: brief.Part{Start: "deals", Own: b.Brief.Own, Filter: cond}}
				bound, err := brief.Bind(&plain, snap.Schema)
				require.NoError(t, err, fmt.Sprint(mark))
				got, err := engine.List(ctx, snap, bound, opts)
				require.NoError(t, err)
				a, z := texts(t, want), texts(t, got)
				slices.SortFunc(a, slices.Compare)
				slices.SortFunc(z, slices.Compare)
				require.Equal(t, a, z, "%s %v", groups, mark)
				asked++
			}
		}
	}
	require.Greater(t, asked, 20)
	for _, groups := range []string{`"groups":[{"field":"expected_close","by":"weekday"}]`, `"groups":[{"field":"customer","top":{"n":1,"by":"v","rest":"drop"}}]`} {
		b := bind(t, snap, `{"version":1,"start":"deals","summaries":[{"key":"v","fn":"sum","of":"value"}],`+groups+`}`)
		r, err := engine.Run(ctx, snap, b, opts)
		require.NoError(t, err)
		mark := result.Mark{}
		if b.Groups[0].Group.By != "" {
			mark.Rows = r.Keys(true, r.Rows[0].Children[0])
		}
		_, err = engine.Conditions(ctx, snap, b, opts, 0, []result.Mark{mark})
		require.ErrorIs(t, err, engine.ErrUnsayable)
	}
}
