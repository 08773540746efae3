package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"uzzel/core/brief"
	"uzzel/internal/store"
)

// Each team has two dashboards in its folder, kept by its first person who composes: what came in, and what is being
// done. TEAM stands for the team's number.
var teamBoards = []struct {
	title   string
	reports []kept
}{
	{
		"this quarter",
		[]kept{
			{
				"Won, towards the target",
				"What the team won this quarter, against what it is to win.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"period":{"field":"closed","within":"this_quarter"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"summaries":[{"key":"total","fn":"sum","of":"value"}],"targetOf":"won_value","chart":{"kind":"progress"}}`,
				0,
				0,
				4,
				5,
			},
			{
				"Open value",
				"What the team's open deals are worth, by when they are expected to close.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"period":{"field":"expected_close","within":{"next":6,"unit":"month"}},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"expected_close","by":"month"}],"summaries":[{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"figure"}}`,
				4,
				0,
				4,
				5,
			},
			{
				"Where deals came from",
				"Deals created this year, by their source.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"period":{"field":"created","within":"this_year"},"groups":[{"field":"source"}],"chart":{"kind":"pie"}}`,
				8,
				0,
				4,
				9,
			},
			{
				"Pipeline",
				"Open project deals, stage by stage.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"field":"pipeline","is":"any_of","values":["Projects"]}]},"groups":[{"field":"stage"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"funnel","values":["total"]}}`,
				0,
				5,
				8,
				8,
			},
			{
				"Won, month by month",
				"Value and number of the deals won in twelve months.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"period":{"field":"closed","within":{"last":12,"unit":"month"}},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"groups":[{"field":"closed","by":"month","every":true}],"summaries":[{"key":"total","fn":"sum","of":"value"},{"key":"n","fn":"count"}],"chart":{"kind":"column_line","values":["total","n"]}}`,
				0,
				13,
				7,
				8,
			},
			{
				"How often we win",
				"Deals decided this year, by segment: how many, how often won, for how much.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"period":{"field":"closed","within":"this_year"},"groups":[{"field":"customer.segment"}],"summaries":[{"key":"n","fn":"count"},{"key":"won","fn":"count","where":{"all":[{"field":"status","is":"any_of","values":["won"]}]}},{"key":"rate","label":"Win rate","formula":"won / n","format":{"style":"percent","decimals":0}},{"key":"worth","fn":"sum","of":"value"}],"chart":{"kind":"bubble","values":["n","rate","worth"]}}`,
				7,
				13,
				5,
				8,
			},
		},
	},
	{
		"at work",
		[]kept{
			{
				"Who does what",
				"The team's activities of four weeks, by person and kind.",
				`{"version":1,"start":"activities","whose":{"teams":["TEAM"]},"period":{"field":"happens","within":{"last":28,"unit":"day"}},"groups":[{"field":"kind"}],"across":[{"field":"owner"}],"totalsOnly":true,"chart":{"kind":"heat"}}`,
				0,
				0,
				7,
				8,
			},
			{
				"How calls end",
				"Outcomes of this quarter's calls.",
				`{"version":1,"start":"activities","whose":{"teams":["TEAM"]},"period":{"field":"happens","within":"this_quarter"},"filter":{"all":[{"field":"kind","is":"any_of","values":["Call"]},{"field":"done","is":"any_of","values":["true"]}]},"groups":[{"field":"outcome"}],"chart":{"kind":"ring"}}`,
				7,
				0,
				5,
				8,
			},
			{
				"Work, week by week",
				"What was done in twelve weeks, by kind.",
				`{"version":1,"start":"activities","whose":{"teams":["TEAM"]},"period":{"field":"happens","within":{"last":12,"unit":"week"}},"groups":[{"field":"happens","by":"week","every":true}],"across":[{"field":"kind"}],"totalsOnly":true,"chart":{"kind":"area","stacked":true}}`,
				0,
				8,
				7,
				8,
			},
			{
				"Open deals and their worth",
				"Each seller's open deals: how many, and what they are worth.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]},"groups":[{"field":"owner"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"chart":{"kind":"scatter","values":["n","total"]}}`,
				7,
				8,
				5,
				8,
			},
			{
				"Not marked done",
				"Work of the past that nobody marked done.",
				`{"version":1,"start":"activities","whose":{"teams":["TEAM"]},"filter":{"all":[{"field":"happens","is":"within","period":"past"},{"field":"done","is":"any_of","values":["false"]}]},"groups":[{"field":"owner"}],"totalsOnly":true,"chart":{"kind":"bar"}}`,
				0,
				16,
				5,
				7,
			},
			{
				"Gone quiet",
				"Open deals with nothing done in 60 days.",
				`{"version":1,"start":"deals","whose":{"teams":["TEAM"]},"filter":{"all":[{"field":"status","is":"any_of","values":["open"]},{"link":"activities","is":"none","where":{"all":[{"field":"happens","is":"within","period":{"last":60,"unit":"day"}}]}}]},"columns":[{"field":"name"},{"field":"customer"},{"field":"owner"},{"field":"value"},{"field":"days_in_stage"}],"order":[{"field":"value","desc":true}],"chart":{"kind":"table"}}`,
				5,
				16,
				7,
				7,
			},
		},
	},
}

// pageReports are on the pages of records, two on each type's.
var pageReports = map[string][]kept{
	"customers": {
		{
			"How its deals stand",
			"",
			`{"version":1,"start":"deals","groups":[{"field":"status"}],"summaries":[{"key":"n","fn":"count"},{"key":"total","fn":"sum","of":"value"}],"totalsOnly":true,"chart":{"kind":"column","values":["total"]}}`,
			0,
			0,
			0,
			0,
		},
		{
			"What was done, by kind",
			"",
			`{"version":1,"start":"activities","groups":[{"field":"kind"}],"totalsOnly":true,"chart":{"kind":"bar"}}`,
			0,
			0,
			0,
			0,
		},
	},
	"deals": {
		{
			"What it is made of",
			"",
			`{"version":1,"start":"lines","groups":[{"field":"product.family"}],"summaries":[{"key":"total","fn":"sum","of":"amount"}],"totalsOnly":true,"chart":{"kind":"ring"}}`,
			0,
			0,
			0,
			0,
		},
		{
			"Work on it, month by month",
			"",
			`{"version":1,"start":"activities","groups":[{"field":"happens","by":"month"}],"totalsOnly":true,"chart":{"kind":"column"}}`,
			0,
			0,
			0,
			0,
		},
	},
}

func keepTeams(ctx context.Context, s *store.Store) error {
	folders, err := s.Folders(ctx, store.Viewer{Person: 2, Administrator: true})
	if err != nil {
		return err
	}
	folder := map[string]int64{}
	for _, f := range folders {
		folder[f.Name] = f.ID
	}
	for i, team := range teams {
		for _, b := range teamBoards {
			board := store.Board{Folder: folder[team], Owner: composerOf(i), Title: team + ", " + b.title}
			for _, k := range b.reports {
				k.brief = strings.ReplaceAll(k.brief, "TEAM", id(i))
				k.title += ", " + team
				r, err := keepReport(ctx, s, k, board.Folder, board.Owner)
				if err != nil {
					return err
				}
				board.Panels = append(board.Panels, store.Panel{Report: r, X: k.x, Y: k.y, W: k.w, H: k.h})
			}
			if err := s.AddBoard(ctx, &board); err != nil {
				return err
			}
		}
	}
	for typ, list := range pageReports {
		for at, k := range list {
			r, err := keepReport(ctx, s, k, folder["Company"], 2)
			if err != nil {
				return err
			}
			if err := s.AddPagePanel(
				ctx,
				&store.PagePanel{RecordType: typ, Report: r, Link: s.Schema().Type(typ).One, Place: at},
			); err != nil {
				return err
			}
		}
	}
	return nil
}

// composerOf is the first of a team who composes.
func composerOf(team int) int64 {
	for i, p := range People {
		if p.Team == team && p.Role != "reader" {
			return int64(i + 1)
		}
	}
	return 2
}

// keepReport keeps a report, once its brief is known to be whole.
func keepReport(ctx context.Context, s *store.Store, k kept, folder, owner int64) (int64, error) {
	b, err := brief.Decode([]byte(k.brief))
	if err == nil {
		_, err = brief.Bind(b, s.Schema())
	}
	if err != nil {
		return 0, fmt.Errorf("report %q: %w", k.title, err)
	}
	text, err := json.Marshal(b)
	if err != nil {
		return 0, err
	}
	r := store.Report{
		Folder:      folder,
		Owner:       owner,
		Title:       k.title,
		Description: k.description,
		Brief:       string(text),
		ChangedBy:   owner,
	}
	err = s.AddReport(ctx, &r)
	return r.ID, err
}
