package demo

import (
	"context"

	"uzzel/core/chart"
	"uzzel/internal/app"
	"uzzel/internal/store"
)

// keepStyles keeps the looks that the company's charts can ask for.
func keepStyles(ctx context.Context, s *store.Store, today int32) error {
	a, err := app.New(s, func() int32 { return today }, nil)
	if err != nil {
		return err
	}
	who, err := a.People.Who(ctx, 2)
	if err != nil {
		return err
	}
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
	return nil
}
