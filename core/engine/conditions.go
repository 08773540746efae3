package engine

import (
	"context"
	"errors"
	"fmt"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/result"
	"uzzel/core/schema"
)

// ErrUnsayable says that what is behind a mark cannot be asked for by conditions.
var ErrUnsayable = errors.New("this cannot be asked for by conditions")

// Conditions says what is behind some cells of a result as a condition on the records of a part, so that it can be
// asked for further: their groups' values, by the paths that the part groups by. It fails with ErrUnsayable where no
// condition is met by just these.
func Conditions(
	ctx context.Context,
	snap *column.Snapshot,
	b *brief.Bound,
	opts Options,
	part int,
	marks []result.Mark,
) (t *brief.Tree, err error) {
	defer whole(&err)
	if snap, opts, err = asOf(snap, b, opts); err != nil {
		return nil, err
	}
	a, err := scanAll(ctx, snap, b, opts, false)
	if err != nil {
		return nil, err
	}
	rows, cols := a.axis(0, b.Rows), a.axis(b.Rows, len(b.Groups))
	var list []brief.Tree
	for _, m := range marks {
		all := []brief.Tree{}
		for _, side := range []struct {
			x    *axis
			keys []string
		}{{rows, m.Rows}, {cols, m.Across}} {
			if all, err = a.along(all, side.x, side.keys, part); err != nil {
				return nil, err
			}
		}
		list = append(list, brief.Tree{All: all})
	}
	if len(list) == 1 {
		return &list[0], nil
	}
	return &brief.Tree{Any: list}, nil
}

// along adds the conditions of the groups that keys lead to, and what is left out of those that they do not name.
func (a *answer) along(all []brief.Tree, x *axis, keys []string, part int) ([]brief.Tree, error) {
	at, err := a.find(x, keys)
	if err != nil {
		return nil, err
	}
	if at < 0 {
		return nil, fmt.Errorf("%w: there is no such group any more", ErrUnsayable)
	}
	for d := range x.depth {
		g := a.b.Groups[x.first+d]
		if d >= len(keys) {
			if t := g.Group.Top; t != nil && t.Rest == "drop" {
				return nil, fmt.Errorf("%w: some groups of %s are left out", ErrUnsayable, brief.GroupLabel(g))
			}
			if a.b.Brief.Blank != nil && !*a.b.Brief.Blank {
				all = append(all, brief.Tree{Field: g.Values[part].Text, Is: "filled"})
			}
		}
	}
	var path []int
	for n := at; n > 0; n = x.nodes[n].Parent {
		path = append([]int{n}, path...)
	}
	for d, n := range path {
		t, err := a.member(a.b.Groups[x.first+d], x, n, part)
		if err != nil {
			return nil, err
		}
		all = append(all, *t)
	}
	return all, nil
}

// member is the condition that the records of a group meet.
func (a *answer) member(g *brief.BoundGroup, x *axis, n int, part int) (*brief.Tree, error) {
	v, node := g.Values[part], &x.nodes[n]
	t := &brief.Tree{Field: v.Text}
	switch {
	case node.Blank:
		t.Is = "empty"
		return t, nil
	case node.Hidden:
		return nil, fmt.Errorf("%w: it is what is not yours to see", ErrUnsayable)
	case node.Other:
		var shown []brief.Tree
		for _, k := range x.nodes[node.Parent].Children {
			if x.nodes[k].Value() {
				one, err := a.member(g, x, k, part)
				if err != nil {
					return nil, err
				}
				shown = append(shown, *one)
			}
		}
		t.Is = "filled"
		return &brief.Tree{All: []brief.Tree{*t, {Not: &brief.Tree{Any: shown}}}}, nil
	case g.Group.By != "":
		if g.Group.By.Round() != 0 {
			return nil, fmt.Errorf("%w: %s comes round", ErrUnsayable, brief.GroupLabel(g))
		}
		first, last := a.s.snap.Cal.First(g.Group.By, int(node.Key)), a.s.snap.Cal.Last(g.Group.By, int(node.Key))
		t.Is = "within"
		t.Period = &brief.Period{Period: period.Period{From: period.FormatDay(first), To: period.FormatDay(last)}}
		return t, nil
	}
	t.Is = "any_of"
	key := a.names().Key(x.first+node.Depth-1, node.Member)[1:]
	if v.Kind == schema.YesNo {
		key = map[int64]string{0: "false", 1: "true"}[node.Key]
	}
	t.Values = []string{key}
	return t, nil
}
