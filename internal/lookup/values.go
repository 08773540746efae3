package lookup

import (
	"context"
	"sort"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
)

// FoundValue is a value that a field has, and in how many records.
type FoundValue struct {
	Value string
	Label string
	Count int64
}

// Values lists the values that a path has among all records of a type: the most frequent first, or in set order.
func Values(ctx context.Context, v *answers.View, start, path, search string) ([]FoundValue, error) {
	of, found, err := counts(ctx, v, brief.Part{Start: start}, path)
	if err != nil {
		return nil, err
	}
	listed := map[string]bool{}
	out := []FoundValue{}
	want := column.Fold(strings.TrimSpace(search))
	for _, f := range found {
		if want == "" || strings.Contains(column.Fold(f.Label), want) {
			listed[f.Label] = true
			out = append(out, f)
		}
	}
	if of.Field != nil {
		for _, c := range of.Field.Choices {
			if !listed[c] && (want == "" || strings.Contains(column.Fold(c), want)) {
				out = append(out, FoundValue{c, c, 0})
			}
		}
	}
	if of.Kind == schema.Text || of.Kind == schema.Link {
		sort.SliceStable(out, func(i, j int) bool { return out[i].Count > out[j].Count })
	}
	return out[:min(len(out), 200)], nil
}

// ValuesWithin is Values with how many records of a report each value has: under its whose, period and conditions.
func ValuesWithin(ctx context.Context, v *answers.View, b *brief.Brief, path, search string) ([]FoundValue, error) {
	list, err := Values(ctx, v, b.Start, path, search)
	if err != nil || len(b.Parts) > 0 {
		return list, err
	}
	part := brief.Part{Start: b.Start, Whose: b.Whose, Period: b.Period, Filter: b.Filter, Own: b.Own, Fixed: b.Fixed}
	_, found, err := counts(ctx, v, part, path)
	if err != nil {
		return nil, err
	}
	within := map[string]int64{}
	for _, f := range found {
		within[f.Value] = f.Count
	}
	for i := range list {
		list[i].Count = within[list[i].Value]
	}
	return list, nil
}

// counts gives the values that a path has among the records of a part, in their order, with what the path reads.
func counts(ctx context.Context, v *answers.View, part brief.Part, path string) (*brief.Value, []FoundValue, error) {
	bound, err := v.Bind(
		&brief.Brief{Version: brief.Version, Part: part, Groups: []brief.Group{{Field: path}}, TotalsOnly: true},
	)
	if err != nil {
		return nil, nil, err
	}
	res, err := v.Numbers(ctx, bound)
	if err != nil {
		return nil, nil, err
	}
	var found []FoundValue
	for _, n := range res.Rows[0].Children {
		if m := res.Rows[n]; m.Value() {
			count, _ := res.Cell(n, 0).Plain[0].Num.Scaled(1)
			found = append(found, FoundValue{strings.TrimPrefix(res.KeyOf(true, n), "="), m.Label, count})
		}
	}
	return bound.Groups[0].Values[0], found, nil
}
