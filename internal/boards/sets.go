package boards

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/starters"
	"uzzel/internal/store"
)

// AddSet makes a dashboard with its reports from a set of starters, all in one folder. A report that is there already,
// with the same title and brief, is placed instead of made twice.
func (bs *Boards) AddSet(ctx context.Context, v *answers.View, key, name string, folder int64) (library.Board, error) {
	for _, set := range starters.Sets() {
		if set.Key != key {
			continue
		}
		list := make([]PlacedReport, len(set.Panels))
		for i, p := range set.Panels {
			list[i] = PlacedReport{
				Panel:       store.Panel{X: p.X, Y: p.Y, W: p.W, H: p.H},
				Title:       p.Starter.Title,
				Description: p.Starter.About,
				Brief:       p.Starter.Brief,
			}
		}
		return bs.addWhole(ctx, v, store.Board{Title: name, Folder: folder}, list)
	}
	return library.Board{}, fault.New(fault.NotFound, "/set", "There is no set “%s”.", key)
}

// PlacedReport is a report that comes with its dashboard; without a brief, the panel has words.
type PlacedReport struct {
	Panel       store.Panel
	Title       string
	Description string
	Brief       *brief.Brief
}

// addWhole makes a dashboard and the reports that it needs.
func (bs *Boards) addWhole(
	ctx context.Context,
	v *answers.View,
	b store.Board,
	list []PlacedReport,
) (library.Board, error) {
	if !v.Who.MayCompose() {
		return library.Board{}, fault.New(fault.Forbidden, "", "Only composers and administrators make dashboards.")
	}
	b.Owner = v.Who.ID
	if err := bs.check(ctx, v, &b, nil, true); err != nil {
		return library.Board{}, err
	}
	if len(list) > MaxPanels {
		return library.Board{}, fault.New(fault.Invalid, "/panels", "A dashboard has %d panels at most.", MaxPanels)
	}
	// The dashboard with all of its reports, or nothing of it.
	var made library.Board
	err := bs.lib.Together(ctx, func(ctx context.Context) error {
		reports, err := bs.lib.Reports(ctx, v)
		if err != nil {
			return err
		}
		for i := range list {
			p := &list[i]
			if p.Brief != nil {
				if p.Panel.Report, err = bs.reportFor(ctx, v, reports, b.Folder, p); err != nil {
					return err
				}
			}
			b.Panels = append(b.Panels, p.Panel)
		}
		made, err = bs.Add(ctx, v, b)
		return err
	})
	return made, err
}

// reportFor finds a report of the same title and brief in a folder, or makes it, under another title where its own is
// taken.
func (bs *Boards) reportFor(
	ctx context.Context,
	v *answers.View,
	reports []library.Report,
	folder int64,
	p *PlacedReport,
) (int64, error) {
	text, err := json.Marshal(p.Brief)
	if err != nil {
		return 0, err
	}
	for _, r := range reports {
		if r.Folder == folder && r.Title == p.Title && r.Holds(string(text)) {
			return r.ID, nil
		}
	}
	for n := 1; ; n++ {
		k := library.Keep{Title: p.Title, Description: p.Description, Folder: folder, Brief: p.Brief}
		if n > 1 {
			k.Title = fmt.Sprintf("%s (%d)", p.Title, n)
		}
		r, err := bs.lib.KeepNew(ctx, v, k)
		var taken *fault.Error
		if errors.As(err, &taken) && taken.Reason == fault.Taken && n < 50 {
			continue
		}
		return r.ID, err
	}
}

// WholeBoard is a dashboard with all that it needs: what is written to a file, and read from one.
type WholeBoard struct {
	Title   string
	Filters string
	Panels  []PlacedReport
	Left    []string // titles of reports that are not in it: their owners keep something of them to themselves
}

// Whole opens a dashboard with the briefs of its reports; those that the person may not open are left out.
func (bs *Boards) Whole(ctx context.Context, v *answers.View, id int64) (WholeBoard, error) {
	b, err := bs.lib.Board(ctx, v, id)
	if err != nil {
		return WholeBoard{}, err
	}
	out := WholeBoard{Title: b.Title, Filters: b.Filters}
	for _, p := range b.Panels {
		placed := PlacedReport{Panel: p}
		if p.Report != 0 {
			r, err := bs.lib.Report(ctx, v, p.Report)
			var gone *fault.Error
			if errors.As(err, &gone) && gone.Reason == fault.NotFound {
				continue
			}
			if err != nil {
				return WholeBoard{}, err
			}
			if !r.MayChange && (r.NoDownload || r.Fixed) {
				out.Left = append(out.Left, r.Title)
				continue
			}
			placed.Title, placed.Description, placed.Brief = r.Title, r.Description, r.Brief.Brief()
		}
		placed.Panel.ID, placed.Panel.Board, placed.Panel.Report = 0, 0, 0
		out.Panels = append(out.Panels, placed)
	}
	return out, nil
}

// AddWhole makes a dashboard from what was written to a file.
func (bs *Boards) AddWhole(ctx context.Context, v *answers.View, w WholeBoard, folder int64) (library.Board, error) {
	return bs.addWhole(ctx, v, store.Board{Title: w.Title, Folder: folder, Filters: w.Filters}, w.Panels)
}
