package desk

import (
	"context"
	"encoding/json"
	"strconv"

	"uzzel/internal/store"
)

const homeBoards = "home boards"

// Homes are the boards that teams begin on, by team; 0 is for everyone whose team has none. version is that of them all.
func (d *Desk) Homes(ctx context.Context) (by map[int64]int64, version int, err error) {
	text, version, err := d.store.Preference(ctx, homeBoards)
	by = map[int64]int64{}
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &by)
	}
	return by, version, err
}

// Home is the board that a person begins on: the team's, or that of all; 0 where there is none that the person may open.
func (d *Desk) Home(ctx context.Context, who Person) (int64, error) {
	by, _, err := d.Homes(ctx)
	if err != nil {
		return 0, err
	}
	for _, team := range []int64{who.TeamID, 0} {
		if board := by[team]; board != 0 {
			if _, err := d.store.Board(ctx, who.viewer(), board); err == nil {
				return board, nil
			}
		}
	}
	return 0, nil
}

// SetHome sets the board that a team begins on (team 0 for all), or takes it away (board 0).
func (d *Desk) SetHome(ctx context.Context, who Person, team, board int64, version int) error {
	if who.Role != Administrator {
		return fail(Forbidden, "", "Only administrators set where a team begins.")
	}
	readers := d.Snapshot().Schema.Readers()
	if team != 0 && d.Snapshot().NameOf(readers.Field(readers.Team).To, strconv.FormatInt(team, 10), nil) == "" {
		return fail(NotFound, "", "There is no such team.")
	}
	if board != 0 {
		if _, err := d.store.Board(ctx, who.viewer(), board); err != nil {
			return mapStore(err, "dashboard")
		}
	}
	d.changing.Lock()
	defer d.changing.Unlock()
	by, now, err := d.Homes(ctx)
	switch {
	case err != nil:
		return err
	case now != version:
		return mapStore(store.ErrStale, "setting")
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
	return mapStore(d.store.SetPreference(ctx, homeBoards, string(text), version), "setting")
}
