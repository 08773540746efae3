package desk

import (
	"context"

	"uzzel/core/column"
	"uzzel/internal/store"
)

// Size of a panel that nobody sized yet, in cells.
const panelW, panelH = 6, 9

// PlaceOn places a report on the dashboard of a name: one that the person may change, or else a new one, made in the
// report's folder.
func (d *Desk) PlaceOn(ctx context.Context, who Person, report int64, name string) (Board, error) {
	r, err := d.Report(ctx, who, report)
	if err != nil {
		return Board{}, err
	}
	if name, err = title(name, "/name"); err != nil {
		return Board{}, err
	}
	boards, err := d.Boards(ctx, who)
	if err != nil {
		return Board{}, err
	}
	for _, b := range boards {
		if b.MayChange && column.Fold(b.Title) == column.Fold(name) {
			b.Panels = append(b.Panels, freePlace(b.Panels, report))
			return d.ChangeBoard(ctx, who, b.Board)
		}
	}
	return d.AddBoard(ctx, who, store.Board{Title: name, Folder: r.Folder, Panels: []store.Panel{freePlace(nil, report)}})
}

// freePlace is the first free place for a new panel: beside another where there is room, else below all.
func freePlace(panels []store.Panel, report int64) store.Panel {
	free := func(x, y int) bool {
		for _, p := range panels {
			if x < p.X+p.W && p.X < x+panelW && y < p.Y+p.H && p.Y < y+panelH {
				return false
			}
		}
		return true
	}
	bottom := 0
	for _, p := range panels {
		bottom = max(bottom, p.Y+p.H)
		for _, x := range []int{0, 12 - panelW} {
			if free(x, p.Y) {
				return store.Panel{Report: report, X: x, Y: p.Y, W: panelW, H: panelH}
			}
		}
	}
	return store.Panel{Report: report, Y: bottom, W: panelW, H: panelH}
}
