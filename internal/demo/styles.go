package demo

import (
	"context"

	"uzzel/core/brief"
	"uzzel/core/chart"
	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// keepStyles keeps the looks that the company's charts can ask for, and the words of its own for its records.
func keepStyles(ctx context.Context, s *store.Store, today int32) error {
	a, err := app.New(s, func() int32 { return today }, nil)
	if err != nil {
		return err
	}
	// Kept in the name of the demo's administrator, who need not be able to sign in.
	who := people.Person{ID: 2, Name: People[1].Name, Role: people.Administrator}
	for _, k := range []struct {
		name  string
		style chart.Style
	}{
		{"Quiet", chart.Style{Palette: []string{"#1374C7", "#12877E", "#69935B", "#1A9CDB", "#5C6EA8"}, Guides: "none", Labels: "values"}},
		{"For the screen in the hall", chart.Style{On: "ink", Labels: "both", Totals: "both", Legend: "right"}},
	} {
		if _, err := a.Styles.Keep(ctx, who, "", k.name, k.style, 0); err != nil {
			return err
		}
	}
	b, err := brief.Decode(
		[]byte(`{"version":1,"start":"customers","filter":{"all":[{"field":"kind","is":"any_of","values":["Prospect"]}]}}`),
	)
	if err != nil {
		return err
	}
	return a.Admin.SetWords(ctx, a.View(who), []answers.Word{{Name: "leads", Brief: b}}, 0)
}
