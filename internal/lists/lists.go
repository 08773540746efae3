// Package lists looks after the lists of records that people work in: kept reports over a record type that stand by name
// over its records, with the chart that each person has beside them.
package lists

import (
	"context"
	"encoding/json"
	"slices"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/store"
)

// Lists are the lists of an organisation.
type Lists struct {
	store *store.Store
	lib   *library.Library
}

// New gives the lists that a store keeps.
func New(s *store.Store, lib *library.Library) *Lists { return &Lists{s, lib} }

// Drawn is what is drawn beside a list: a summary by a field, of the records that the list shows.
type Drawn struct {
	Summary brief.Summary `json:"summary"`
	Group   brief.Group   `json:"group"`
	Kind    string        `json:"kind"`
}

// Choice is how a person has the lists of a record type before them. First is the list that opens, 0 for all records.
type Choice struct {
	First int64  `json:"first,omitempty"`
	Chart *Drawn `json:"chart,omitempty"`
	Place string `json:"place,omitempty" enum:"beside,above,closed" doc:"Where the chart stands"`
}

// Of are the lists of a record type that a person may open, by title: their own first.
func (l *Lists) Of(ctx context.Context, v *answers.View, typ string) ([]library.Report, Choice, error) {
	var choice Choice
	if v.Snap.Schema.Type(typ) == nil {
		return nil, choice, fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	ids, err := l.store.Lists(ctx)
	if err != nil {
		return nil, choice, err
	}
	open, err := l.lib.ReportsOf(ctx, v, ids)
	if err != nil {
		return nil, choice, err
	}
	list := slices.DeleteFunc(open, func(r library.Report) bool { return r.Start() != typ })
	slices.SortStableFunc(list, func(a, b library.Report) int {
		mine := func(r library.Report) int {
			if r.Owner == v.Who.ID && !r.Team {
				return 0
			}
			return 1
		}
		return mine(a) - mine(b)
	})
	text, err := l.store.ListChoice(ctx, v.Who.ID, typ)
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &choice)
	}
	return list, choice, err
}

// Set has a report be a list of the records it is about, or no longer.
func (l *Lists) Set(ctx context.Context, v *answers.View, report int64, on bool) error {
	r, err := l.lib.Report(ctx, v, report)
	switch {
	case err != nil:
		return err
	case !r.MayChange:
		return fault.New(fault.Forbidden, "", "This report is %s’s. Keep it as your own first.", r.OwnerName)
	case r.Start() == "":
		return fault.New(fault.Invalid, "", "A list is of one record type; this report is of several.")
	}
	return l.store.SetList(ctx, report, on)
}

// Choose keeps how a person has the lists of a record type before them.
func (l *Lists) Choose(ctx context.Context, v *answers.View, typ string, c Choice) error {
	if v.Snap.Schema.Type(typ) == nil {
		return fault.New(fault.NotFound, "", "There is no record type “%s”.", typ)
	}
	if c.Chart != nil {
		_, err := v.Bind(&brief.Brief{
			Version: brief.Version, Part: brief.Part{Start: typ, Summaries: []brief.Summary{c.Chart.Summary}},
			Groups: []brief.Group{c.Chart.Group}, TotalsOnly: true,
		})
		if err != nil {
			return err
		}
	}
	text, err := json.Marshal(c)
	if err != nil {
		return err
	}
	return l.store.SetListChoice(ctx, v.Who.ID, typ, string(text))
}
