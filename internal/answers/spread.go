package answers

import (
	"context"

	"uzzel/core/brief"
	"uzzel/core/exact"
	"uzzel/core/period"
	"uzzel/core/schema"
	"uzzel/internal/fault"
)

// Bin is one bar of a spread: how many records have a value from From to under To, without To in the last.
type Bin struct {
	From, To string // plain decimals; "" where there is no end
	Count    int64
}

// spreadBins is how many bars a spread has at most.
const spreadBins = 16

// Spread says how the values of a number are spread over a record type's records: bars of one width, with round edges;
// what lies far above the most is one bar at the end.
func (v *View) Spread(ctx context.Context, start, path string) ([]Bin, error) {
	part := brief.Part{
		Start: start,
		Summaries: []brief.Summary{
			{Key: "least", Fn: "min", Of: path},
			{Key: "middle", Fn: "median", Of: path},
			{Key: "most", Fn: "max", Of: path},
		},
	}
	bound, err := v.Bind(&brief.Brief{Version: brief.Version, Part: part})
	if err != nil {
		return nil, err
	}
	if !bound.Summaries[0].Kind.Numeric() {
		return nil, fault.New(fault.Invalid, "/path", "A spread is of a number, an amount or a percentage.")
	}
	r, err := v.Numbers(ctx, bound)
	if err != nil {
		return nil, err
	}
	c := r.Cell(0, 0)
	if !c.Plain[0].Set {
		return []Bin{}, nil
	}
	low, middle, high := c.Plain[0].Num, c.Plain[1].Num, c.Plain[2].Num
	if far := middle.Mul(exact.Int(6)); middle.Sign() > 0 && high.Cmp(middle.Mul(exact.Int(20))) > 0 {
		high = far
	}
	step := roundStep(high.Sub(low))
	places := 0
	if bound.Summaries[0].Kind == schema.Money {
		places = 2
	}
	var edges []string
	k, _ := low.Quo(step)
	at := exact.Int(floor(k)).Mul(step)
	for n := 0; n < spreadBins && at.Cmp(high) < 0; n++ {
		at = at.Add(step)
		edges = append(edges, at.Round(places+4).String())
	}
	if len(edges) == 0 {
		edges = []string{low.Add(step).String()}
	}
	part = brief.Part{Start: start, Own: []brief.Own{{Key: "bin", Bands: &brief.Bands{Of: path, Edges: edges}}}}
	bound, err = v.Bind(
		&brief.Brief{
			Version:    brief.Version,
			Part:       part,
			Groups:     []brief.Group{{Field: "own.bin", Every: true}},
			TotalsOnly: true,
		},
	)
	if err != nil {
		return nil, err
	}
	if r, err = v.Numbers(ctx, bound); err != nil {
		return nil, err
	}
	bins := []Bin{}
	for i, n := range r.Rows[0].Children {
		if !r.Rows[n].Value() || i > len(edges) {
			continue
		}
		count, _ := r.Cell(n, 0).Plain[0].Num.Scaled(1)
		b := Bin{Count: count}
		if i > 0 {
			b.From = edges[i-1]
		}
		if i < len(edges) {
			b.To = edges[i]
		}
		bins = append(bins, b)
	}
	return bins, nil
}

func floor(n exact.Num) int64 {
	v := int64(n.Float())
	if n.Cmp(exact.Int(v)) < 0 {
		v--
	}
	return v
}

// roundStep is a round number that cuts a width into about a dozen parts.
func roundStep(width exact.Num) exact.Num {
	step := exact.Int(1)
	ten := exact.Int(10)
	parts := func(s exact.Num) float64 {
		q, ok := width.Quo(s)
		if !ok {
			return 0
		}
		return q.Float()
	}
	for parts(step) > spreadBins {
		step = step.Mul(ten)
	}
	for parts(step) < 1 && step.Float() > 1e-4 {
		step, _ = step.Quo(ten)
	}
	for _, by := range []int64{10, 5, 2} {
		if finer, ok := step.Quo(exact.Int(by)); ok && parts(finer) <= spreadBins {
			return finer
		}
	}
	return step
}

// Period resolves a period today.
func (v *View) Period(p period.Period) (period.Span, error) {
	if err := p.Check(); err != nil {
		return period.Span{}, fault.New(fault.Invalid, "/within", "%s", err)
	}
	return v.Snap.Cal.Resolve(p, v.Day), nil
}
