package boards

import (
	"context"
	"slices"

	"uzzel/internal/answers"
	"uzzel/internal/library"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Closed is a report on a board that not everyone who may open the board may open.
type Closed struct {
	Report int64
	Title  string // "" where the person who asks may not open it either
	Folder string
	To     []string // the names of those that it is closed to
	// MayMove says whether the person may put it into the board's folder.
	MayMove bool
}

// closedTo names those of some people who may not open a report.
func closedTo(v *answers.View, l store.Lying, readers []people.Person) []string {
	var names []string
	for _, p := range readers {
		if !l.MayRead(p.Viewer()) {
			names = append(names, people.Name(v.Snap, p.ID))
		}
	}
	return names
}

// ClosedReports lists the reports on a board that are closed to some who may open the board.
func (bs *Boards) ClosedReports(ctx context.Context, v *answers.View, board int64) ([]Closed, error) {
	b, err := bs.changeable(ctx, v, board)
	if err != nil {
		return nil, err
	}
	in, err := bs.lib.Reach(ctx, v)
	if err != nil {
		return nil, err
	}
	home := in.Folders[b.Folder]
	if home == nil {
		return []Closed{}, nil
	}
	var ids []int64
	for _, p := range b.Panels {
		if p.Report != 0 {
			ids = append(ids, p.Report)
		}
	}
	lies, err := bs.store.Lie(ctx, ids)
	if err != nil {
		return nil, err
	}
	readers, err := bs.people.Readers(ctx, home)
	if err != nil {
		return nil, err
	}
	list := []Closed{}
	seen := map[int64]bool{}
	for _, id := range ids {
		l, ok := lies[id]
		if !ok || seen[id] || l.ID == b.Folder {
			continue // a deleted one says so itself
		}
		seen[id] = true
		c := Closed{Report: id, To: closedTo(v, l, readers)}
		if len(c.To) == 0 {
			continue
		}
		if r, err := bs.lib.Report(ctx, v, id); err == nil {
			c.Title, c.Folder, c.MayMove = r.Title, l.Name, r.MayChange && bs.lib.CheckFolder(ctx, v, b.Folder, r.Owner) == nil
		}
		list = append(list, c)
	}
	return list, nil
}

// OpenReports puts the closed reports of a board that the person may change into the board's folder, and gives those
// that stay closed.
func (bs *Boards) OpenReports(ctx context.Context, v *answers.View, board int64) ([]Closed, error) {
	list, err := bs.ClosedReports(ctx, v, board)
	if err != nil {
		return nil, err
	}
	b, err := bs.lib.Board(ctx, v, board)
	if err != nil {
		return nil, err
	}
	for _, c := range list {
		if !c.MayMove {
			continue
		}
		if _, err := bs.lib.MoveReport(ctx, v, c.Report, b.Folder); err != nil {
			return nil, err
		}
	}
	return bs.ClosedReports(ctx, v, board)
}

// ClosedPlace is a place where a report is that has readers who may not open the report.
type ClosedPlace struct {
	library.Use
	To []string // the names of those that it is closed to
	// Into is the folder in which all of them may open it, where there is one that the person may move it to; 0 otherwise.
	Into     int64
	IntoName string
}

// ClosedAt lists the places of a report at which some who come there may not open it: dashboards, and record pages,
// which everyone opens.
func (bs *Boards) ClosedAt(ctx context.Context, v *answers.View, report int64) ([]ClosedPlace, error) {
	r, err := bs.lib.Report(ctx, v, report)
	if err != nil {
		return nil, err
	}
	in, err := bs.lib.Reach(ctx, v)
	if err != nil {
		return nil, err
	}
	uses, _, err := bs.lib.UsedOn(ctx, v, report)
	if err != nil {
		return nil, err
	}
	lies, err := bs.store.Lie(ctx, []int64{report})
	if err != nil {
		return nil, err
	}
	list := []ClosedPlace{}
	for _, u := range uses {
		var home *store.Folder
		if !u.Pages {
			b, err := bs.lib.Board(ctx, v, u.Board)
			if err != nil {
				return nil, err
			}
			if home = in.Folders[b.Folder]; home == nil {
				continue // who may come there is not theirs to know
			}
		}
		readers, err := bs.people.Readers(ctx, home)
		if err != nil {
			return nil, err
		}
		p := ClosedPlace{Use: u, To: closedTo(v, lies[report], readers)}
		if len(p.To) == 0 {
			continue
		}
		if into := bs.openTo(ctx, v, &r, in, home, readers); into != nil {
			p.Into, p.IntoName = into.ID, into.Name
		}
		list = append(list, p)
	}
	return list, nil
}

// openTo is a folder that a person may move a report to and that all of some people may open: the one where it is,
// or else the first of those by name; nil for none.
func (bs *Boards) openTo(
	ctx context.Context,
	v *answers.View,
	r *library.Report,
	in library.Reach,
	home *store.Folder,
	readers []people.Person,
) *store.Folder {
	if !r.MayChange {
		return nil
	}
	fits := func(f *store.Folder) bool {
		return f != nil && f.Owner == nil && bs.lib.CheckFolder(ctx, v, f.ID, r.Owner) == nil &&
			!slices.ContainsFunc(readers, func(p people.Person) bool { return !f.MayOpen(p.Viewer()) })
	}
	if fits(home) {
		return home
	}
	var best *store.Folder
	for _, f := range in.Folders {
		if fits(f) && (best == nil || f.Name < best.Name) {
			best = f
		}
	}
	return best
}
