package desk

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"uzzel/core/brief"
	"uzzel/internal/starters"
	"uzzel/internal/store"
)

// AddSet makes a dashboard with its reports from a set of starters, all in one folder. A report that is there already,
// with the same title and brief, is placed instead of made twice.
func (d *Desk) AddSet(ctx context.Context, who Person, key, name string, folder int64) (Board, error) {
	for _, set := range starters.Sets() {
		if set.Key != key {
			continue
		}
		list := make([]PlacedReport, len(set.Panels))
		for i, p := range set.Panels {
			list[i] = PlacedReport{Panel: store.Panel{X: p.X, Y: p.Y, W: p.W, H: p.H}, Title: p.Starter.Title, Description: p.Starter.About, Brief: p.Starter.Brief}
		}
		return d.addWhole(ctx, who, store.Board{Title: name, Folder: folder}, list)
	}
	return Board{}, fail(NotFound, "/set", "There is no set “%s”.", key)
}

// PlacedReport is a report that comes with its dashboard; without a brief, the panel has words.
type PlacedReport struct {
	Panel       store.Panel
	Title       string
	Description string
	Brief       *brief.Brief
}

// addWhole makes a dashboard and the reports that it needs.
func (d *Desk) addWhole(ctx context.Context, who Person, b store.Board, list []PlacedReport) (Board, error) {
	if !who.MayCompose() {
		return Board{}, fail(Forbidden, "", "Only composers and administrators make dashboards.")
	}
	b.Owner = who.ID
	if err := d.checkBoard(ctx, who, &b, nil, true); err != nil {
		return Board{}, err
	}
	if len(list) > MaxPanels {
		return Board{}, fail(Invalid, "/panels", "A dashboard has %d panels at most.", MaxPanels)
	}
	// The dashboard with all of its reports, or nothing of it.
	var made Board
	err := d.together(ctx, func(ctx context.Context) error {
		reports, err := d.Reports(ctx, who)
		if err != nil {
			return err
		}
		for i := range list {
			p := &list[i]
			if p.Brief != nil {
				if p.Panel.Report, err = d.reportFor(ctx, who, reports, b.Folder, p); err != nil {
					return err
				}
			}
			b.Panels = append(b.Panels, p.Panel)
		}
		made, err = d.AddBoard(ctx, who, b)
		return err
	})
	return made, err
}

type afterKey struct{}

// together keeps all that do keeps with the context it is given, or nothing of it; who is to be told of it is told once
// it is kept.
func (d *Desk) together(ctx context.Context, do func(ctx context.Context) error) error {
	var told []func()
	err := d.store.Together(ctx, func(ctx context.Context) error { return do(context.WithValue(ctx, afterKey{}, &told)) })
	if err == nil {
		for _, tell := range told {
			tell()
		}
	}
	return err
}

// after does something once what a context keeps is kept: at once, where that is not together with more.
func (d *Desk) after(ctx context.Context, do func()) {
	if told, ok := ctx.Value(afterKey{}).(*[]func()); ok {
		*told = append(*told, do)
		return
	}
	do()
}

// reportFor finds a report of the same title and brief in a folder, or makes it, under another title where its own is
// taken.
func (d *Desk) reportFor(ctx context.Context, who Person, reports []Report, folder int64, p *PlacedReport) (int64, error) {
	text, err := json.Marshal(p.Brief)
	if err != nil {
		return 0, err
	}
	for _, r := range reports {
		if r.Folder == folder && r.Title == p.Title && r.row.Brief == string(text) {
			return r.ID, nil
		}
	}
	for n := 1; ; n++ {
		k := Keep{Title: p.Title, Description: p.Description, Folder: folder, Brief: p.Brief}
		if n > 1 {
			k.Title = fmt.Sprintf("%s (%d)", p.Title, n)
		}
		r, err := d.KeepNew(ctx, who, k)
		var taken *Error
		if errors.As(err, &taken) && taken.Reason == Taken && n < 50 {
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
func (d *Desk) Whole(ctx context.Context, who Person, id int64) (WholeBoard, error) {
	b, err := d.Board(ctx, who, id)
	if err != nil {
		return WholeBoard{}, err
	}
	out := WholeBoard{Title: b.Title, Filters: b.Filters}
	for _, p := range b.Panels {
		placed := PlacedReport{Panel: p}
		if p.Report != 0 {
			r, err := d.Report(ctx, who, p.Report)
			var gone *Error
			if errors.As(err, &gone) && gone.Reason == NotFound {
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
func (d *Desk) AddWhole(ctx context.Context, who Person, w WholeBoard, folder int64) (Board, error) {
	return d.addWhole(ctx, who, store.Board{Title: w.Title, Folder: folder, Filters: w.Filters}, w.Panels)
}
