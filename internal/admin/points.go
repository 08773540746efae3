package admin

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Question is a first question of a starting point.
type Question struct {
	Title string
	Brief *brief.Brief
}

// StartingPoint is what administrators offer to begin a report from: a record type with its links and its fields in
// their order (the brief's columns), conditions, and a few first questions. A condition that is fixed is seen by whoever
// begins from it, and is fixed for the readers of what they save. Teams are those that see it; none for everyone.
type StartingPoint struct {
	ID        int64
	Name      string
	About     string
	Brief     *brief.Brief
	Questions []Question
	Teams     []int64
	Place     int
	Version   int
}

// MaxQuestions is how many first questions a starting point has at most.
const MaxQuestions = 6

// StartingPoints lists the starting points that a person sees. Administrators see all.
func (a *Admin) StartingPoints(ctx context.Context, v *answers.View) ([]StartingPoint, error) {
	rows, err := a.store.StartingPoints(ctx)
	if err != nil {
		return nil, err
	}
	versions, err := a.store.SettingVersions(ctx, store.SettingPoint)
	if err != nil {
		return nil, err
	}
	list := []StartingPoint{}
	for _, r := range rows {
		p := StartingPoint{
			ID:        r.ID,
			Name:      r.Name,
			About:     r.Description,
			Place:     r.Place,
			Version:   versions[strconv.FormatInt(r.ID, 10)],
			Questions: []Question{},
			Teams:     []int64{},
		}
		var questions []struct {
			Title string
			Brief json.RawMessage
		}
		for text, into := range map[string]any{r.Questions: &questions, r.Teams: &p.Teams} {
			if err := json.Unmarshal([]byte(text), into); err != nil {
				return nil, fmt.Errorf("starting point %d: %w", r.ID, err)
			}
		}
		if p.Brief, err = brief.Decode([]byte(r.Brief)); err != nil {
			return nil, fmt.Errorf("starting point %d: %w", r.ID, err)
		}
		for _, q := range questions {
			b, err := brief.Decode(q.Brief)
			if err != nil {
				return nil, fmt.Errorf("starting point %d: %w", r.ID, err)
			}
			p.Questions = append(p.Questions, Question{q.Title, brief.Unfixed(b)})
		}
		if len(p.Teams) == 0 || slices.Contains(p.Teams, v.Who.TeamID) || v.Who.May(people.LayOut) {
			list = append(list, p)
		}
	}
	return list, nil
}

func mayPoint(v *answers.View) error {
	if !v.Who.May(people.LayOut) {
		return fault.New(fault.Forbidden, "", "Only administrators make starting points.")
	}
	return nil
}

// KeepStartingPoint makes a starting point (ID 0), or changes one.
func (a *Admin) KeepStartingPoint(ctx context.Context, v *answers.View, p StartingPoint) error {
	err := mayPoint(v)
	if err != nil {
		return err
	}
	if p.Name, err = naming.Title(p.Name, "/name"); err != nil {
		return err
	}
	switch {
	case utf8.RuneCountInString(p.About) > 2000:
		return fault.New(fault.Invalid, "/about", "A description has 2,000 characters at most.")
	case len(p.Questions) > MaxQuestions:
		return fault.New(fault.Invalid, "/questions", "A starting point has %d first questions at most.", MaxQuestions)
	}
	if _, err := v.Bind(p.Brief); err != nil {
		return err
	}
	if slices.ContainsFunc(p.Questions, func(q Question) bool { return brief.HasFixed(q.Brief) }) {
		return fault.New(
			fault.Invalid,
			"/questions",
			"Everyone reads the conditions of first questions, so none can be fixed.",
		)
	}
	type question struct {
		Title string       `json:"title"`
		Brief *brief.Brief `json:"brief"`
	}
	questions := []question{}
	for i, q := range p.Questions {
		if q.Title, err = naming.Title(q.Title, fmt.Sprintf("/questions/%d/title", i)); err != nil {
			return err
		}
		if _, err := v.Bind(q.Brief); err != nil {
			return err
		}
		questions = append(questions, question(q))
	}
	for i, t := range p.Teams {
		if people.SubjectName(v.Snap, store.Access{Kind: store.ForTeam, Subject: t}) == "" {
			return fault.New(fault.Invalid, fmt.Sprintf("/teams/%d", i), "There is no such team.")
		}
	}
	row := store.StartingPoint{ID: p.ID, Name: p.Name, Description: p.About, Place: p.Place}
	for into, from := range map[*string]any{&row.Brief: p.Brief, &row.Questions: questions, &row.Teams: append([]int64{}, p.Teams...)} {
		text, err := json.Marshal(from)
		if err != nil {
			return err
		}
		*into = string(text)
	}
	return fault.FromStore(a.store.KeepStartingPoint(ctx, &row, p.Version), "starting point")
}

// DropStartingPoint takes a starting point away; reports begun from it stay.
func (a *Admin) DropStartingPoint(ctx context.Context, v *answers.View, id int64) error {
	if err := mayPoint(v); err != nil {
		return err
	}
	return fault.FromStore(a.store.DropStartingPoint(ctx, id), "starting point")
}
