package demo

import (
	"context"
	"fmt"
	"strconv"

	"uzzel/core/target"
	"uzzel/internal/store"
)

// measures are what the company sets targets for.
var measures = []store.Measure{
	{
		Key:   "won_value",
		Name:  "Won value",
		Brief: `{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"},"filter":{"all":[{"field":"status","is":"any_of","values":["won"]}]},"summaries":[{"key":"total","fn":"sum","of":"value"}]}`,
	},
	{
		Key:   "site_visits",
		Name:  "Site visits",
		Brief: `{"version":1,"start":"activities","period":{"field":"happens","within":"this_year"},"filter":{"all":[{"field":"kind","is":"any_of","values":["Site visit"]}]},"summaries":[{"key":"n","fn":"count"}]}`,
	},
}

// wonByMonth is each team's target of a month, in euros.
var wonByMonth = []int{300_000, 330_000, 300_000, 20_000}

// visitsByMonth is a seller's target of a month.
const visitsByMonth = 6

// keepTargets sets targets for the year before today's and the one after it: of what is won by team, of visits by
// person.
func keepTargets(ctx context.Context, s *store.Store, today int32) error {
	for _, m := range measures {
		if err := s.KeepMeasure(ctx, m, store.Unchecked); err != nil {
			return err
		}
	}
	list := map[string][]store.Target{}
	for month := target.MonthOf(today) - 18; month < target.MonthOf(today)+18; month++ {
		for i, amount := range wonByMonth {
			list["won_value"] = append(
				list["won_value"],
				store.Target{
					Measure: "won_value",
					Kind:    target.Team,
					Subject: int64(i + 1),
					Month:   int(month),
					Amount:  strconv.Itoa(amount),
				},
			)
		}
		for i, p := range People {
			if p.Role == "reader" && p.Name != "Hale Winterton" {
				list["site_visits"] = append(
					list["site_visits"],
					store.Target{
						Measure: "site_visits",
						Kind:    target.Person,
						Subject: int64(i + 1),
						Month:   int(month),
						Amount:  strconv.Itoa(visitsByMonth),
					},
				)
			}
		}
	}
	for measure, targets := range list {
		if err := s.SetTargets(ctx, 2, measure, targets, store.Unchecked); err != nil {
			return fmt.Errorf("targets: %w", err)
		}
	}
	return nil
}
