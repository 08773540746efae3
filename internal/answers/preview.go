package answers

import (
	"context"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/core/schema"
	"uzzel/internal/fault"
)

// Preview draws charts of the organisation's own records as a house style would have them before it is kept: one of
// several series, and one of one series with its shares.
func (v *View) Preview(ctx context.Context, style chart.Style) ([]*chart.Drawing, error) {
	if err := style.Check(v.Snap.Schema); err != nil {
		return nil, fault.New(fault.Invalid, "/style", "%s.", err)
	}
	start, by, across := sampled(v.Snap.Schema)
	if start == "" {
		return []*chart.Drawing{}, nil
	}
	part := brief.Part{Start: start}
	list := []*chart.Drawing{}
	for _, b := range []*brief.Brief{
		{Version: brief.Version, Part: part, Groups: []brief.Group{{Field: by}}, Across: []brief.Group{{Field: across}}, Chart: &brief.Chart{Kind: "column", Stacked: true}},
		{Version: brief.Version, Part: part, Groups: []brief.Group{{Field: across}}, Chart: &brief.Chart{Kind: "ring"}},
	} {
		bound, err := v.Bind(b)
		if err != nil {
			return nil, err
		}
		n, err := v.result(ctx, bound)
		if err != nil {
			return nil, err
		}
		w := v.Writer()
		w.Style = &style
		list = append(list, chart.Draw(n.Result, b.Chart, w))
	}
	return list, nil
}

// sampled are the record type and the two choices that a style is shown on: the first type with an owner that has two.
func sampled(s *schema.Schema) (start, by, across string) {
	for _, t := range s.Types {
		var choices []string
		for _, f := range t.Fields {
			if f.Kind == schema.Choice && len(f.Choices) > 1 && len(f.Choices) <= 12 {
				choices = append(choices, f.Key)
			}
		}
		if t.Owner != "" && len(choices) > 1 {
			return t.Key, choices[0], choices[1]
		}
	}
	return "", "", ""
}
