package desk

import (
	"context"
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
	var ids []int64
	for _, p := range b.Panels {
		if p.Report != 0 {
			ids = append(ids, p.Report)
		}
	}
	lies, err := d.store.FoldersOf(ctx, ids)
	if err != nil {
		return nil, err
	}
	accounts, err := d.store.Accounts(ctx)
	if err != nil {
		return nil, err
	}
	home := in[b.Folder]
	var readers []Person
	for _, a := range accounts {
		p := Person{ID: a.Person, Role: a.Role, TeamID: d.teamOf(a.Person)}
		if home.MayOpen(p.viewer()) {
			readers = append(readers, p)
		}
	}
	list := []Closed{}
	seen := map[int64]bool{}
	for _, id := range ids {
		f, ok := lies[id]
		if !ok || seen[id] || f.ID == b.Folder {
			continue // a deleted one says so itself
		}
		seen[id] = true
		c := Closed{Report: id}
		for _, p := range readers {
			if !f.MayOpen(p.viewer()) {
				c.To = append(c.To, d.personName(p.ID))
			}
		}
		if len(c.To) == 0 {
			continue
		}
		if r, err := d.Report(ctx, who, id); err == nil {
			c.Title, c.Folder, c.MayMove = r.Title, f.Name, r.MayChange
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
