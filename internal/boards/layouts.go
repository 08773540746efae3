package boards

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Version is what a board was once, and in words what the change to it was.
type Version struct {
	store.BoardVersion
	Who    string
	Change []string
}

// Versions lists what a board was, the newest first. Reports that a person may not open are not named.
func (bs *Boards) Versions(ctx context.Context, v *answers.View, id int64) ([]Version, error) {
	if _, err := bs.lib.Board(ctx, v, id); err != nil {
		return nil, err
	}
	rows, err := bs.store.BoardVersions(ctx, id)
	if err != nil {
		return nil, err
	}
	stood := map[int64]bool{}
	for _, v := range rows {
		maps.Copy(stood, stands(v.Layout.Panels))
	}
	reports, err := bs.store.ReportsOf(ctx, v.Who.Viewer(), slices.Collect(maps.Keys(stood)))
	if err != nil {
		return nil, err
	}
	titles := map[int64]string{}
	for _, r := range reports {
		titles[r.ID] = r.Title
	}
	list := make([]Version, len(rows))
	for i, row := range rows {
		list[i] = Version{row, people.Name(v.Snap, row.Person), []string{"as it began"}}
		if i+1 < len(rows) {
			list[i].Change = boardChange(&rows[i+1], &rows[i], titles)
		}
	}
	return list, nil
}

// boardChange says in words what one version of a board has that another has not.
func boardChange(was, now *store.BoardVersion, titles map[int64]string) []string {
	var list []string
	if now.Title != was.Title {
		list = append(list, fmt.Sprintf("named “%s”, was “%s”", now.Title, was.Title))
	}
	before := countPanels(was.Layout.Panels)
	after := countPanels(now.Layout.Panels)
	for _, c := range []struct {
		word     string
		from, to map[int64]int
		panels   []store.Panel
	}{{"placed", before, after, now.Layout.Panels}, {"taken off", after, before, was.Layout.Panels}} {
		var names []string
		told := map[int64]bool{}
		for _, p := range c.panels {
			if n := c.to[p.Report] - c.from[p.Report]; n > 0 && !told[p.Report] {
				told[p.Report] = true
				names = append(names, panelName(p, n, titles))
			}
		}
		if len(names) > 0 {
			list = append(list, strings.Join(names, ", ")+" "+c.word)
		}
	}
	if maps.Equal(before, after) {
		if !slices.EqualFunc(was.Layout.Panels, now.Layout.Panels, samePlace) {
			list = append(list, "panels moved or sized anew")
		}
		if !slices.EqualFunc(
			was.Layout.Panels,
			now.Layout.Panels,
			func(a, b store.Panel) bool { return a.Options == b.Options },
		) {
			list = append(list, "what panels say or show")
		}
	}
	if was.Layout.Filters != now.Layout.Filters {
		list = append(list, "what its panels are narrowed to")
	}
	if len(list) == 0 {
		list = append(list, "where it is kept, or who owns it")
	}
	return list
}

func countPanels(list []store.Panel) map[int64]int {
	n := map[int64]int{}
	for _, p := range list {
		n[p.Report]++
	}
	return n
}

func samePlace(a, b store.Panel) bool {
	return a.Report == b.Report && a.X == b.X && a.Y == b.Y && a.W == b.W && a.H == b.H
}

func panelName(p store.Panel, n int, titles map[int64]string) string {
	name := "a report that is not open to you"
	switch {
	case p.Report == 0:
		name = "words"
	case titles[p.Report] != "":
		name = "“" + titles[p.Report] + "”"
	}
	if n > 1 {
		name += fmt.Sprintf(" (%d times)", n)
	}
	return name
}

// BringVersionBack makes a board what it was at a version. Panels of reports that are gone for good are left out.
func (bs *Boards) BringVersionBack(ctx context.Context, v *answers.View, id int64, version int) (library.Board, error) {
	b, err := bs.changeable(ctx, v, id)
	if err != nil {
		return library.Board{}, err
	}
	rows, err := bs.store.BoardVersions(ctx, id)
	if err != nil {
		return library.Board{}, err
	}
	at := slices.IndexFunc(rows, func(v store.BoardVersion) bool { return v.Version == version })
	if at < 0 {
		return library.Board{}, fault.FromStore(store.ErrNotFound, "version")
	}
	known, err := bs.store.KnownReports(ctx, slices.Collect(maps.Keys(stands(rows[at].Layout.Panels))))
	if err != nil {
		return library.Board{}, err
	}
	b.Title, b.Filters, b.ChangedBy = rows[at].Title, rows[at].Layout.Filters, v.Who.ID
	b.Panels = slices.DeleteFunc(
		rows[at].Layout.Panels,
		func(p store.Panel) bool { return p.Report != 0 && !known[p.Report] },
	)
	if err := bs.check(ctx, v, &b.Board, known, false); err != nil {
		return library.Board{}, err
	}
	return bs.changed(ctx, v, &b.Board, b.Folder)
}

// Draft is how a person has arranged a board without saving it; revision 0 is none.
func (bs *Boards) Draft(ctx context.Context, v *answers.View, id int64) (store.BoardDraft, error) {
	if _, err := bs.lib.Board(ctx, v, id); err != nil {
		return store.BoardDraft{}, err
	}
	draft, err := bs.store.BoardDraft(ctx, v.Who.ID, id)
	if errors.Is(err, store.ErrNotFound) {
		return store.BoardDraft{Board: id}, nil
	}
	return draft, err
}

// KeepDraft keeps how a board is being arranged. It need not be saved yet, only be a board.
func (bs *Boards) KeepDraft(ctx context.Context, v *answers.View, draft store.BoardDraft) (store.BoardDraft, error) {
	was, err := bs.changeable(ctx, v, draft.Board)
	if err != nil {
		return draft, err
	}
	b := was.Board
	b.Panels = draft.Layout.Panels
	if err := bs.check(ctx, v, &b, stands(was.Panels), false); err != nil {
		return draft, err
	}
	draft.Person, draft.Layout = v.Who.ID, store.Layout{Filters: was.Filters, Panels: b.Panels}
	err = bs.store.PutBoardDraft(ctx, &draft)
	if errors.Is(err, store.ErrStale) {
		return draft, fault.New(
			fault.Stale,
			"",
			"This dashboard is being arranged in another window, too. What you see here is kept in this window; open it again to see the other.",
		)
	}
	return draft, err
}

// DropDraft throws away how a person has arranged a board.
func (bs *Boards) DropDraft(ctx context.Context, v *answers.View, id int64) error {
	return bs.store.DropBoardDraft(ctx, v.Who.ID, id)
}

// Order keeps the order in which a person sees boards.
func (bs *Boards) Order(ctx context.Context, v *answers.View, ids []int64) error {
	boards, err := bs.store.Boards(ctx, v.Who.Viewer())
	if err != nil {
		return err
	}
	open := map[int64]bool{}
	for _, b := range boards {
		open[b.ID] = true
	}
	for _, id := range ids {
		if !open[id] {
			return fault.FromStore(store.ErrNotFound, "dashboard")
		}
		open[id] = false // each once
	}
	return bs.store.SetBoardOrder(ctx, v.Who.ID, ids)
}

// stands says which reports are on panels.
func stands(panels []store.Panel) map[int64]bool {
	is := map[int64]bool{}
	for _, p := range panels {
		is[p.Report] = true
	}
	return is
}
