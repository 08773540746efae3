package demo

import (
	"context"
	"fmt"
	"strings"

	"uzzel/internal/store"
)

// kept is a report that the demo company has, and its place on the first dashboard.
type kept struct {
	title, description, brief string
	x, y, w, h                int
}

var reports = []kept{
	{
		"What closes this quarter",
		"Open deals that are expected to close before the quarter ends.",
		`{"version":1,"start":"deals","period":{"field":"expected_close","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"pipeline","is":"any_of","values":["Projects"]}]},
		 "groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"order":[{"field":"value","desc":true}],"chart":{"kind":"funnel","values":["total"]}}`,
		0,
		0,
		5,
		9,
	},
	{
		"Who did what in the last four weeks",
		"Activities of all kinds, marked done or not.",
		`{"version":1,"start":"activities","period":{"field":"happens","within":{"last":28,"unit":"day"}},"groups":[{"field":"owner"}],"across":[{"field":"kind"}],
		 "totalsOnly":true,"chart":{"kind":"bar","stacked":true}}`,
		5,
		0,
		7,
		9,
	},
	{
		"Won by segment",
		"What was won this year, by the customers' segment.",
		`{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},
		 "groups":[{"field":"customer.segment"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"column","values":["total"]}}`,
		0,
		9,
		5,
		8,
	},
	{
		"Deals created, month by month",
		"How many deals were begun in each of the last twelve months.",
		`{"version":1,"start":"deals","period":{"field":"created","within":{"last":12,"unit":"month"}},"groups":[{"field":"created","by":"month","every":true}],"chart":{"kind":"line"}}`,
		5,
		9,
		7,
		8,
	},
	{
		"Large deals gone quiet",
		"Open deals over 40,000 with no call in the last three weeks.",
		`{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"value","is":"over","values":["40000"]},
		 {"link":"activities","is":"none","where":{"all":[{"field":"kind","is":"any_of","values":["Call"]},{"field":"happens","is":"within","period":{"last":21,"unit":"day"}}]}}]},
		 "columns":[{"field":"name"},{"field":"customer"},{"field":"owner"},{"field":"stage"},{"field":"value"},{"field":"days_in_stage"}],"order":[{"field":"value","desc":true}]}`,
		0,
		17,
		12,
		8,
	},
	{
		"Deals by status",
		"",
		`{"version":1,"start":"deals","groups":[{"field":"status"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"pie","values":["n"]}}`,
		0,
		0,
		0,
		0,
	},
	{
		"Won this quarter, towards the target",
		"What was won so far, against what the teams are to win.",
		`{"version":1,"start":"deals","period":{"field":"closed","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},
		 "summaries":[{"key":"total","fn":"sum","of":"value"}],"targetOf":"won_value","chart":{"kind":"progress"}}`,
		0,
		0,
		0,
		0,
	},
}

// keepReports keeps the company's first reports, and a dashboard of those that have a place on it.
func keepReports(ctx context.Context, s *store.Store) error {
	folders, err := s.Folders(ctx, store.Viewer{Person: 1})
	if err != nil {
		return err
	}
	board := store.Board{Owner: 1, Title: "Company, Monday"}
	for _, f := range folders {
		if f.Name == "Company" {
			board.Folder = f.ID
		}
	}
	for _, k := range reports {
		r, err := keepReport(ctx, s, k, board.Folder, 1)
		if err != nil {
			return err
		}
		if k.w > 0 {
			p := store.Panel{Report: r, X: k.x, Y: k.y, W: k.w, H: k.h}
			if strings.Contains(k.brief, `"groups":[{"field":"stage"}]`) {
				p.Options = `{"switch":true}`
			}
			board.Panels = append(board.Panels, p)
		}
	}
	if err := s.AddBoard(ctx, &board); err != nil {
		return err
	}
	// Everyone whose team has none begins on it.
	return s.SetPreference(ctx, "home boards", fmt.Sprintf(`{"0":%d}`, board.ID), 0)
}
