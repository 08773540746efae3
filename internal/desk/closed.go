package desk

import (
	"context"
	"slices"

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

// readers are those who can sign in and may open a folder; everyone, where it is nil.
func (d *Desk) readers(ctx context.Context, f *store.Folder) ([]Person, error) {
	accounts, err := d.store.Accounts(ctx)
	var list []Person
	for _, a := range accounts {
		p := Person{ID: a.Person, Role: a.Role, TeamID: d.teamOf(a.Person)}
		if f == nil || f.MayOpen(p.viewer()) {
			list = append(list, p)
		}
	}
	return list, err
}

// closedTo names those of some people who may not open a report.
func (d *Desk) closedTo(l store.Lying, readers []Person) []string {
	var names []string
	for _, p := range readers {
		if !l.MayRead(p.viewer()) {
			names = append(names, d.personName(p.ID))
		}
	}
	return names
}

// ClosedReports lists the reports on a board that are closed to some who may open the board.
func (d *Desk) ClosedReports(ctx context.Context, who Person, board int64) ([]Closed, error) {
	b, err := d.changeableBoard(ctx, who, board)
	if err != nil {
		return nil, err
	}
	in, err := d.folders(ctx, who)
	if err != nil {
		return nil, err
	}
	home := in[b.Folder]
	if home == nil {
		return []Closed{}, nil
	}
	var ids []int64
	for _, p := range b.Panels {
		if p.Report != 0 {
			ids = append(ids, p.Report)
		}
	}
	lies, err := d.store.Lie(ctx, ids)
	if err != nil {
		return nil, err
	}
	readers, err := d.readers(ctx, home)
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
		c := Closed{Report: id, To: d.closedTo(l, readers)}
		if len(c.To) == 0 {
			continue
		}
		if r, err := d.Report(ctx, who, id); err == nil {
			c.Title, c.Folder, c.MayMove = r.Title, l.Name, r.MayChange && d.checkFolder(ctx, who, b.Folder, r.Owner) == nil
		}
		list = append(list, c)
	}
	return list, nil
}

// OpenReports puts the closed reports of a board that the person may change into the board's folder, and gives those
// that stay closed.
func (d *Desk) OpenReports(ctx context.Context, who Person, board int64) ([]Closed, error) {
	list, err := d.ClosedReports(ctx, who, board)
	if err != nil {
		return nil, err
	}
	b, err := d.Board(ctx, who, board)
	if err != nil {
		return nil, err
	}
	for _, c := range list {
		if !c.MayMove {
			continue
		}
		if _, err := d.MoveReport(ctx, who, c.Report, b.Folder); err != nil {
			return nil, err
		}
	}
	return d.ClosedReports(ctx, who, board)
}

// ClosedPlace is a place where a report stands that has readers who may not open the report.
type ClosedPlace struct {
	Use
	To []string // the names of those that it is closed to
	// Into is the folder in which all of them may open it, where there is one that the person may move it to; 0 otherwise.
	Into     int64
	IntoName string
}

// ClosedAt lists the places of a report at which some who come there may not open it: dashboards, and record pages, which
// everyone opens.
func (d *Desk) ClosedAt(ctx context.Context, who Person, report int64) ([]ClosedPlace, error) {
	r, err := d.Report(ctx, who, report)
	if err != nil {
		return nil, err
	}
	in, err := d.folders(ctx, who)
	if err != nil {
		return nil, err
	}
	uses, _, err := d.UsedOn(ctx, who, report)
	if err != nil {
		return nil, err
	}
	lies, err := d.store.Lie(ctx, []int64{report})
	if err != nil {
		return nil, err
	}
	list := []ClosedPlace{}
	for _, u := range uses {
		var home *store.Folder
		if !u.Pages {
			b, err := d.Board(ctx, who, u.Board)
			if err != nil {
				return nil, err
			}
			if home = in[b.Folder]; home == nil {
				continue // who may come there is not theirs to know
			}
		}
		readers, err := d.readers(ctx, home)
		if err != nil {
			return nil, err
		}
		p := ClosedPlace{Use: u, To: d.closedTo(lies[report], readers)}
		if len(p.To) == 0 {
			continue
		}
		if into := d.openTo(ctx, who, &r, in, home, readers); into != nil {
			p.Into, p.IntoName = into.ID, into.Name
		}
		list = append(list, p)
	}
	return list, nil
}

// openTo is a folder that a person may move a report to and that all of some people may open: the one where it stands, or
// else the first of those by name; nil for none.
func (d *Desk) openTo(ctx context.Context, who Person, r *Report, in folders, home *store.Folder, readers []Person) *store.Folder {
	if !r.MayChange {
		return nil
	}
	fits := func(f *store.Folder) bool {
		return f != nil && f.Owner == nil && d.checkFolder(ctx, who, f.ID, r.Owner) == nil &&
			!slices.ContainsFunc(readers, func(p Person) bool { return !f.MayOpen(p.viewer()) })
	}
	if fits(home) {
		return home
	}
	var best *store.Folder
	for _, f := range in {
		if fits(f) && (best == nil || f.Name < best.Name) {
			best = f
		}
	}
	return best
}
