package engine

import (
	"context"
	"math/bits"
	"slices"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/exact"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// Onward is how many of a brief's records ever stood in a stage, and how many of those ever stood in a later stage of the
// same pipeline that is not lost.
type Onward struct{ Stood, Went int64 }

// Share is the part that went on; empty where none stood there.
func (s Onward) Share() result.Value {
	part, ok := exact.Int(s.Went).Quo(exact.Int(s.Stood))
	return result.Value{Set: ok, Num: part}
}

// maxStages is how many stages are told apart.
const maxStages = 64

// HasOnward says whether a brief is grouped first by the stage of its own records, so that their history says how many
// went on from each.
func HasOnward(b *brief.Bound) bool {
	if len(b.Groups) == 0 || len(b.Parts) != 1 || len(b.Parts[0].Levels) != 1 {
		return false
	}
	v := b.Groups[0].Values[0]
	return v.Field != nil && v.Field.Stages && len(v.Hops) == 0 && len(v.Type.Stages) <= maxStages
}

// OnwardByStage works out, for each open stage by its name that others come after, how many records went on from there
// (docs/brief.md, "Charts"): from where records are and from all changes of their stage. Nothing where HasOnward says
// so.
func OnwardByStage(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
) (by map[string]Onward, err error) {
	defer whole(&err)
	if !HasOnward(b) {
		return nil, nil
	}
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	r := newRun(ctx, snap, opts)
	if err := r.plan(b.Parts[0], spanOf(snap.Cal, b.Parts[0], opts.Today, "").Now); err != nil {
		return nil, err
	}
	r.cheapest()
	in := make([]bool, r.n)
	err = r.scan(func(_ int, batch *batch) {
		for _, row := range batch.rows[0][:batch.n] {
			in[row] = true
		}
	})
	if err != nil {
		return nil, err
	}
	v := b.Groups[0].Values[0]
	stood, err := r.stood(v.Type, v.Field)
	if err != nil {
		return nil, err
	}
	return onward(v.Type.Stages, in, stood), nil
}

// onward counts the records that are in by the stages they stood in, a bit each.
func onward(stages []schema.Stage, in []bool, stood []uint64) map[string]Onward {
	later := make([]uint64, len(stages))
	for i, from := range stages {
		for j := i + 1; j < len(stages); j++ {
			if stages[j].Pipeline == from.Pipeline && stages[j].Status != "lost" {
				later[i] |= 1 << j
			}
		}
	}
	counts := make([]Onward, len(stages))
	for row, mask := range stood {
		if !in[row] {
			continue
		}
		for m := mask; m != 0; m &= m - 1 {
			i := bits.TrailingZeros64(m)
			counts[i].Stood++
			if mask&later[i] != 0 {
				counts[i].Went++
			}
		}
	}
	out := map[string]Onward{}
	for i, s := range stages {
		if later[i] != 0 && s.Status == "open" {
			out[s.Name] = counts[i]
		}
	}
	return out
}

// stood says for each record in which stages it ever stood: the one it is in, and those of all changes.
func (r *run) stood(t *schema.Type, f *schema.Field) ([]uint64, error) {
	masks := make([]uint64, r.n)
	now, err := r.snap.Column(t.Key, f.Key)
	if err != nil {
		return nil, err
	}
	err = r.each(r.n, []*column.Column{now}, func(first int, vals [][]int64) {
		bit := stageBits(now, t.Stages)
		for i, c := range vals[0] {
			masks[first+i] |= bit(c)
		}
	})
	if err != nil {
		return nil, err
	}
	changes, of, err := r.snap.ChangesOf(t.Key)
	if err != nil || changes == nil {
		return masks, err
	}
	cols := []*column.Column{of, nil, nil, nil}
	for i, key := range []string{schema.HistoryField, "from", "to"} {
		if cols[i+1], err = r.snap.Column(changes.Type.Key, key); err != nil {
			return nil, err
		}
	}
	code, from, to := int64(cols[1].Dict.Code(f.Key)), stageBits(cols[2], t.Stages), stageBits(cols[3], t.Stages)
	err = r.each(changes.N, cols, func(_ int, vals [][]int64) {
		for i, row := range vals[0] {
			if row != column.Null && vals[1][i] == code {
				masks[row] |= from(vals[2][i]) | to(vals[3][i])
			}
		}
	})
	return masks, err
}

// each reads columns a stretch of rows at a time, until the run is stopped.
func (r *run) each(n int, cols []*column.Column, use func(first int, vals [][]int64)) error {
	room := make([][]int64, len(cols))
	for i := range room {
		room[i] = make([]int64, batchSize)
	}
	vals := make([][]int64, len(cols))
	for first := 0; first < n; first += batchSize {
		if err := r.ctx.Err(); err != nil {
			return err
		}
		for i, c := range cols {
			vals[i] = room[i][:min(batchSize, n-first)]
			c.Run(int32(first), vals[i])
		}
		use(first, vals)
	}
	return nil
}

// stageBits gives the bit of the stage that a column's code stands for, 0 for none.
func stageBits(c *column.Column, stages []schema.Stage) func(code int64) uint64 {
	names := c.Dict.Values()
	of := make([]uint64, len(names))
	for i, s := range stages {
		if code := slices.Index(names, s.Name); code >= 0 {
			of[code] = 1 << i
		}
	}
	return func(code int64) uint64 {
		if code < 0 || code >= int64(len(of)) {
			return 0
		}
		return of[code]
	}
}
