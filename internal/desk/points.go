package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"unicode/utf8"

	"uzzel/core/brief"
	"uzzel/internal/store"
)

// Question is a first question of a starting point.
type Question struct {
	Title string
	Brief *brief.Brief
}

// StartingPoint is what administrators offer to begin a report from: a record type with its links and its fields in
// their order (the brief's columns), and a few first questions. Teams are those that see it; none for everyone.
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
func (d *Desk) StartingPoints(ctx context.Context, who Person) ([]StartingPoint, error) {
	rows, err := d.store.StartingPoints(ctx)
	if err != nil {
		return nil, err
	}
	versions, err := d.store.SettingVersions(ctx, store.SettingPoint)
	if err != nil {
		return nil, err
	}
	list := []StartingPoint{}
	for _, r := range rows {
		p := StartingPoint{ID: r.ID, Name: r.Name, About: r.Description, Place: r.Place, Version: versions[strconv.FormatInt(r.ID, 10)], Questions: []Question{}, Teams: []int64{}}
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
		p.Brief = brief.Unfixed(p.Brief)
		for _, q := range questions {
			b, err := brief.Decode(q.Brief)
			if err != nil {
				return nil, fmt.Errorf("starting point %d: %w", r.ID, err)
			}
			p.Questions = append(p.Questions, Question{q.Title, brief.Unfixed(b)})
		}
		if len(p.Teams) == 0 || slices.Contains(p.Teams, who.TeamID) || who.Role == Administrator {
			list = append(list, p)
		}
	}
	return list, nil
}

func mayPoint(who Person) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators make starting points.")
	}
	return nil
}

// KeepStartingPoint makes a starting point (ID 0), or changes one.
func (d *Desk) KeepStartingPoint(ctx context.Context, who Person, p StartingPoint) error {
	err := mayPoint(who)
	if err != nil {
		return err
	}
	if p.Name, err = title(p.Name, "/name"); err != nil {
		return err
	}
	switch {
	case utf8.RuneCountInString(p.About) > 2000:
		return fail(Invalid, "/about", "A description has 2,000 characters at most.")
	case len(p.Questions) > MaxQuestions:
		return fail(Invalid, "/questions", "A starting point has %d first questions at most.", MaxQuestions)
	}
	if _, err := d.Bind(p.Brief); err != nil {
		return err
	}
	if brief.HasFixed(p.Brief) || slices.ContainsFunc(p.Questions, func(q Question) bool { return brief.HasFixed(q.Brief) }) {
		return fail(Invalid, "/brief", "Everyone who begins from a starting point reads its conditions, so none can be fixed.")
	}
	type question struct {
		Title string       `json:"title"`
		Brief *brief.Brief `json:"brief"`
	}
	questions := []question{}
	for i, q := range p.Questions {
		if q.Title, err = title(q.Title, fmt.Sprintf("/questions/%d/title", i)); err != nil {
			return err
		}
		if _, err := d.Bind(q.Brief); err != nil {
			return err
		}
		questions = append(questions, question(q))
	}
	for i, t := range p.Teams {
		if d.subjectName(store.Access{Kind: store.ForTeam, Subject: t}) == "" {
			return fail(Invalid, fmt.Sprintf("/teams/%d", i), "There is no such team.")
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
	return mapStore(d.store.KeepStartingPoint(ctx, &row, p.Version), "starting point")
}

// DropStartingPoint takes a starting point away; reports begun from it stay.
func (d *Desk) DropStartingPoint(ctx context.Context, who Person, id int64) error {
	if err := mayPoint(who); err != nil {
		return err
	}
	return mapStore(d.store.DropStartingPoint(ctx, id), "starting point")
}
