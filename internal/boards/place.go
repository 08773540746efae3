package boards

import (
	"context"
	"slices"

	"uzzel/core/column"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/naming"
	"uzzel/internal/store"
)

// Size of a panel that nobody sized yet, in cells.
const panelW, panelH = 6, 9

// PlaceOn places a report on the dashboard of a name: one that the person may change, or else a new one, made in the
// report's folder.
func (bs *Boards) PlaceOn(ctx context.Context, v *answers.View, report int64, name string) (library.Board, error) {
	r, err := bs.lib.Report(ctx, v, report)
	if err != nil {
		return library.Board{}, err
	}
	if name, err = naming.Title(name, "/name"); err != nil {
		return library.Board{}, err
	}
	boards, err := bs.lib.Boards(ctx, v)
	if err != nil {
		return library.Board{}, err
	}
	for _, b := range boards {
		if b.MayChange && column.Fold(b.Title) == column.Fold(name) {
			return bs.Place(ctx, v, b.ID, store.Panel{Report: report})
		}
	}
	return bs.Add(
		ctx,
		v,
		store.Board{Title: name, Folder: r.Folder, Panels: []store.Panel{freePlace(nil, store.Panel{Report: report})}},
	)
}

// Place puts one more panel on a board, where there is room for it.
func (bs *Boards) Place(ctx context.Context, v *answers.View, board int64, p store.Panel) (library.Board, error) {
	b, err := bs.changeable(ctx, v, board)
	if err != nil {
		return library.Board{}, err
	}
	b.Panels = append(b.Panels, freePlace(b.Panels, p))
	return bs.Change(ctx, v, b.Board)
}

// TakeOff takes a report off a board, wherever it is on it.
func (bs *Boards) TakeOff(ctx context.Context, v *answers.View, board, report int64) (library.Board, error) {
	b, err := bs.changeable(ctx, v, board)
	if err != nil {
		return library.Board{}, err
	}
	left := slices.DeleteFunc(slices.Clone(b.Panels), func(p store.Panel) bool { return p.Report == report })
	if len(left) == len(b.Panels) {
		return library.Board{}, fault.New(fault.NotFound, "", "The report does not stand on “%s”.", b.Title)
	}
	b.Panels = left
	return bs.Change(ctx, v, b.Board)
}

// freePlace gives a new panel the first free place: beside another where there is room, else below all. A panel without
// a size gets the usual one.
func freePlace(panels []store.Panel, fresh store.Panel) store.Panel {
	if fresh.W < 1 || fresh.W > 12 || fresh.H < 1 {
		fresh.W, fresh.H = panelW, panelH
	}
	at := func(x, y int) store.Panel {
		fresh.X, fresh.Y = x, y
		return fresh
	}
	free := func(x, y int) bool {
		for _, p := range panels {
			if x < p.X+p.W && p.X < x+fresh.W && y < p.Y+p.H && p.Y < y+fresh.H {
				return false
			}
		}
		return true
	}
	bottom := 0
	for _, p := range panels {
		bottom = max(bottom, p.Y+p.H)
		for _, x := range []int{0, 12 - fresh.W} {
			if free(x, p.Y) {
				return at(x, p.Y)
			}
		}
	}
	return at(0, bottom)
}
