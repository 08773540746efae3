package demo

import (
	"context"
	"fmt"

	"uzzel/core/brief"
	"uzzel/internal/store"
)

// points are the company's starting points. Questions are pairs of a title and a brief.
var points = []struct {
	name, about, brief string
	questions          [][2]string
}{
	{
		"Projects",
		"Building work, from the first enquiry to the order.",
		`{"version":1,"start":"deals","filter":{"all":[{"field":"pipeline","is":"any_of","values":["Projects"]}]},
		 "columns":[{"field":"name"},{"field":"customer"},{"field":"owner"},{"field":"stage"},{"field":"value"},{"field":"expected_close"},{"field":"days_in_stage"},{"field":"customer.segment"}]}`,
		[][2]string{
			{
				"What closes this quarter?",
				`{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[{"field":"pipeline","is":"any_of","values":["Projects"]},{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["total"]}}`,
			},
			{
				"Which stand too long in their stage?",
				`{"version":1,"start":"deals","filter":{"all":[{"field":"pipeline","is":"any_of","values":["Projects"]},{"field":"status","is":"any_of","values":["open"]},{"field":"days_in_stage","is":"over","values":["45"]}]},"columns":[{"field":"name"},{"field":"owner"},{"field":"stage"},{"field":"days_in_stage"},{"field":"value"}],"order":[{"field":"days_in_stage","desc":true}]}`,
			},
			{
				"How often do we win, by segment?",
				`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"all":[{"field":"pipeline","is":"any_of","values":["Projects"]},{"field":"status","is":"any_of","values":["won","lost"]}]},"groups":[{"field":"customer.segment"}],"summaries":[{"key":"won","fn":"count","where":{"all":[{"field":"status","is":"any_of","values":["won"]}]}},{"key":"decided","fn":"count"},{"key":"rate","label":"Win rate","formula":"won / decided","format":{"style":"percent","decimals":0}}],"chart":{"kind":"column","values":["rate"]}}`,
			},
		},
	},
	{
		"Site work",
		"Calls, visits and letters, with the customers they were for.",
		`{"version":1,"start":"activities","period":{"field":"happens","within":{"last":28,"unit":"day"}},
		 "columns":[{"field":"subject"},{"field":"kind"},{"field":"customer"},{"field":"owner"},{"field":"happens"},{"field":"done"},{"field":"outcome"}],"order":[{"field":"happens","desc":true}]}`,
		[][2]string{
			{
				"Who did what in four weeks?",
				`{"version":1,"start":"activities","period":{"field":"happens","within":{"last":28,"unit":"day"}},"groups":[{"field":"owner"}],"across":[{"field":"kind"}],"totalsOnly":true,"chart":{"kind":"bar","stacked":true}}`,
			},
			{
				"What was never marked done?",
				`{"version":1,"start":"activities","filter":{"all":[{"field":"happens","is":"within","period":"past"},{"field":"done","is":"any_of","values":["false"]}]},"groups":[{"field":"owner"}],"chart":{"kind":"bar"}}`,
			},
		},
	},
	{
		"Customers",
		"Who they are, what they bought, and who has not been heard of.",
		`{"version":1,"start":"customers","columns":[{"field":"name"},{"field":"segment"},{"field":"owner"},{"field":"country"},{"field":"size"}]}`,
		[][2]string{
			{
				"Which have nothing going on?",
				`{"version":1,"start":"customers","filter":{"all":[{"field":"kind","is":"any_of","values":["Customer"]},{"link":"deals","is":"none","where":{"all":[{"field":"status","is":"any_of","values":["open"]}]}},{"link":"activities","is":"none","where":{"all":[{"field":"happens","is":"within","period":{"last":90,"unit":"day"}}]}}]},"columns":[{"field":"name"},{"field":"segment"},{"field":"owner"}],"order":[{"field":"name"}]}`,
			},
			{
				"How large are they, by segment?",
				`{"version":1,"start":"customers","own":[{"key":"size_class","label":"Size class","bands":{"of":"size","edges":["50","150","300"]}}],"groups":[{"field":"segment"}],"across":[{"field":"own.size_class"}],"totalsOnly":true,"chart":{"kind":"column","stacked":true}}`,
			},
			{
				"Where do fields lack?",
				`{"version":1,"start":"customers","summaries":[{"key":"n","fn":"count"},{"key":"segment","fn":"filled","of":"segment"},{"key":"size","fn":"filled","of":"size"},{"key":"postcode","fn":"filled","of":"postcode"}],"groups":[{"field":"owner.team"}],"chart":{"kind":"table"}}`,
			},
		},
	},
	{
		"Care",
		"Service plans: what is due, renewed and ended.",
		`{"version":1,"start":"deals","filter":{"all":[{"field":"pipeline","is":"any_of","values":["Care"]}]},"columns":[{"field":"name"},{"field":"customer"},{"field":"owner"},{"field":"stage"},{"field":"value"},{"field":"expected_close"}]}`,
		[][2]string{
			{
				"What is due in three months?",
				`{"version":1,"start":"deals","period":{"field":"expected_close","within":{"next":3,"unit":"month"}},"filter":{"all":[{"field":"pipeline","is":"any_of","values":["Care"]},{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"expected_close","by":"month"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"column"}}`,
			},
			{
				"How many plans are renewed?",
				`{"version":1,"start":"deals","period":{"field":"closed","within":{"last":12,"unit":"month"}},"filter":{"all":[{"field":"pipeline","is":"any_of","values":["Care"]}]},"groups":[{"field":"closed","by":"quarter"}],"across":[{"field":"status"}],"totalsOnly":true,"chart":{"kind":"column","stacked":true,"measure":"share"}}`,
			},
		},
	},
}

func keepPoints(ctx context.Context, s *store.Store) error {
	check := func(text string) error {
		b, err := brief.Decode([]byte(text))
		if err == nil {
			_, err = brief.Bind(b, s.Schema())
		}
		return err
	}
	for i, p := range points {
		if err := check(p.brief); err != nil {
			return fmt.Errorf("starting point %q: %w", p.name, err)
		}
		list := ""
		for _, q := range p.questions {
			if err := check(q[1]); err != nil {
				return fmt.Errorf("question %q: %w", q[0], err)
			}
			if list != "" {
				list += ","
			}
			list += fmt.Sprintf(`{"title":%q,"brief":%s}`, q[0], q[1])
		}
		if err := s.KeepStartingPoint(
			ctx,
			&store.StartingPoint{
				Name:        p.name,
				Description: p.about,
				Brief:       p.brief,
				Questions:   "[" + list + "]",
				Teams:       "[]",
				Place:       i,
			},
			store.Unchecked,
		); err != nil {
			return err
		}
	}
	return nil
}
