package admin

import (
	"context"
	"encoding/json"
	"strconv"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

const homeBoards = "home boards"

// Homes are the boards that teams begin on, by team; 0 is for everyone whose team has none. version is that of them
// all.
func (a *Admin) Homes(ctx context.Context) (by map[int64]int64, version int, err error) {
	text, version, err := a.store.Preference(ctx, homeBoards)
	by = map[int64]int64{}
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &by)
	}
	return by, version, err
}

// Home is the board that a person begins on: the team's, or that of all; 0 where there is none that the person may
// open.
func (a *Admin) Home(ctx context.Context, v *answers.View) (int64, error) {
	by, _, err := a.Homes(ctx)
	if err != nil {
		return 0, err
	}
	for _, team := range []int64{v.Who.TeamID, 0} {
		if board := by[team]; board != 0 {
			if _, err := a.store.Board(ctx, v.Who.Viewer(), board); err == nil {
				return board, nil
			}
		}
	}
	return 0, nil
}

// SetHome sets the board that a team begins on (team 0 for all), or takes it away (board 0).
func (a *Admin) SetHome(ctx context.Context, v *answers.View, team, board int64, version int) error {
	leads := team != 0 && team == v.Who.TeamID && v.Who.May(people.Lead)
	if !leads && !v.Who.May(people.LayOut) {
		return fault.New(fault.Forbidden, "", "Only who leads a team, and administrators, set where it begins.")
	}
	readers := v.Snap.Schema.Readers()
	if team != 0 && v.Snap.NameOf(readers.Field(readers.Team).To, strconv.FormatInt(team, 10), nil) == "" {
		return fault.New(fault.NotFound, "", "There is no such team.")
	}
	if board != 0 {
		if _, err := a.store.Board(ctx, v.Who.Viewer(), board); err != nil {
			return fault.FromStore(err, "dashboard")
		}
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	by, now, err := a.Homes(ctx)
	switch {
	case err != nil:
		return err
	case now != version:
		return fault.FromStore(store.ErrStale, "setting")
	}
	if board == 0 {
		delete(by, team)
	} else {
		by[team] = board
	}
	text, err := json.Marshal(by)
	if err != nil {
		return err
	}
	return fault.FromStore(a.store.SetPreference(ctx, homeBoards, string(text), version), "setting")
}
