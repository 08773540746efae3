package engine

import (
	"context"

	"uzzel/core/column"
)

// Sees says which records of a type a reader may see at all.
type Sees string

// What a reader may see of a type; everything where nothing is said.
const (
	SeesAll  Sees = ""
	SeesTeam Sees = "team" // those whose owner is in the reader's team, and the reader's own
	SeesOwn  Sees = "own"  // those that the reader owns
)

// seen says of each row of a type whether the reader may see it; nil where all may be seen. Records of a type without
// owner are seen by all.
func (r *run) seen(typ string) ([]bool, error) {
	how := r.opts.Sees[typ]
	if how == SeesAll {
		return nil, nil
	}
	if seen, ok := r.sees[typ]; ok {
		return seen, nil
	}
	t, err := r.snap.Table(typ)
	if err != nil || t.Type.Owner == "" {
		return nil, err
	}
	owner, err := r.column(typ, t.Type.Owner)
	if err != nil {
		return nil, err
	}
	ok, err := r.peers(how == SeesTeam)
	if err != nil {
		return nil, err
	}
	seen := make([]bool, t.N)
	parallel(t.N, func(from, to int) {
		vals := make([]int64, batchSize)
		for ; from < to; from += batchSize {
			part := vals[:min(batchSize, to-from)]
			owner.Run(int32(from), part)
			for i, v := range part {
				seen[from+i] = v != column.Null && ok[v]
			}
		}
	})
	r.sees[typ] = seen
	return seen, nil
}

// peers marks the reader among the readers' type, and those of the reader's team where team is asked for.
func (r *run) peers(team bool) ([]bool, error) {
	people, err := r.snap.Table(r.snap.Schema.Readers().Key)
	if err != nil {
		return nil, err
	}
	ok := make([]bool, people.N)
	me := people.IDs.Row(r.opts.Reader)
	if me < 0 {
		return ok, nil
	}
	if team && people.Type.Team != "" {
		c, err := r.column(people.Type.Key, people.Type.Team)
		if err != nil {
			return nil, err
		}
		if mine := c.At(me); mine != column.Null {
			for i := range ok {
				ok[i] = c.At(int32(i)) == mine
			}
		}
	}
	ok[me] = true
	return ok, nil
}

// hideLinks makes links to records that the reader may not see empty.
func (r *run) hideLinks(typ string, eval func(b *batch, out []int64)) (func(b *batch, out []int64), error) {
	seen, err := r.seen(typ)
	if err != nil || seen == nil {
		return eval, err
	}
	return func(b *batch, out []int64) {
		eval(b, out)
		for i, v := range out[:b.n] {
			if v != column.Null && !seen[v] {
				out[i] = column.Null
			}
		}
	}, nil
}

// Sight says of the rows of a type which the reader may see. What it needs is looked up once, however many are asked for.
func Sight(ctx context.Context, snap *column.Snapshot, opts Options, typ string) (func(row int32) bool, error) {
	how := opts.Sees[typ]
	t, err := snap.Table(typ)
	if err != nil {
		return nil, err
	}
	if how == SeesAll || t.Type.Owner == "" {
		return func(int32) bool { return true }, nil
	}
	r := newRun(ctx, snap, opts)
	owner, err := r.column(typ, t.Type.Owner)
	if err != nil {
		return nil, err
	}
	ok, err := r.peers(how == SeesTeam)
	if err != nil {
		return nil, err
	}
	return func(row int32) bool {
		v := owner.At(row)
		return v != column.Null && ok[v]
	}, nil
}
