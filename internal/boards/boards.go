package boards

import (
	"context"
	"errors"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/library"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// MaxPanels is how many panels a board has at most.
const MaxPanels = 60

// check checks a board that is to be kept; was says which reports stood on it before, into whether it is put into
// another folder than it lay in.
func (bs *Boards) check(ctx context.Context, v *answers.View, b *store.Board, was map[int64]bool, into bool) error {
	var err error
	if b.Title, err = naming.Title(b.Title, "/title"); err != nil {
		return err
	}
	if len(b.Panels) > MaxPanels {
		return fault.New(fault.Invalid, "/panels", "A dashboard has %d panels at most.", MaxPanels)
	}
	private, err := bs.store.PrivateFolder(ctx, v.Who.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	for i := range b.Panels {
		p := &b.Panels[i]
		if p.X < 0 || p.Y < 0 || p.W < 1 || p.H < 1 || p.X+p.W > 12 || p.Y > 10000 || p.H > 100 {
			return fault.New(fault.Invalid, "/panels", "A panel lies outside the dashboard.")
		}
		p.ID = 0
		if err := checkPanel(v, p, i, b.Folder == private); err != nil {
			return err
		}
		if was[p.Report] || p.Report == 0 {
			continue // it may be deleted, or one that only others may open: it stays where it is
		}
		if _, err := bs.store.Report(ctx, v.Who.Viewer(), p.Report); err != nil {
			return fault.FromStore(err, "report")
		}
	}
	if err := checkFilters(v, b.Filters); err != nil {
		return err
	}
	if into {
		return bs.lib.CheckFolder(ctx, v, b.Folder, b.Owner)
	}
	return nil
}

// Add makes a board.
func (bs *Boards) Add(ctx context.Context, v *answers.View, b store.Board) (library.Board, error) {
	if !v.Who.MayCompose() {
		return library.Board{}, fault.New(fault.Forbidden, "", "Only composers and administrators make dashboards.")
	}
	b.Owner = v.Who.ID
	if err := bs.check(ctx, v, &b, nil, true); err != nil {
		return library.Board{}, err
	}
	if err := bs.store.AddBoard(ctx, &b); err != nil {
		return library.Board{}, library.BoardError(err, b.Title)
	}
	return bs.kept(ctx, v, b.ID, b.Folder)
}

// kept tells whoever it concerns that a board is kept, and opens it; before is the folder that it lay in.
func (bs *Boards) kept(ctx context.Context, v *answers.View, id, before int64) (library.Board, error) {
	ctx = context.WithoutCancel(ctx)
	b, err := bs.lib.Board(ctx, v, id)
	if err == nil {
		bs.lib.Tell(ctx, store.KindBoard, id, b.Owner, before, b.Folder)
	}
	return b, err
}

// Change keeps a changed board.
func (bs *Boards) Change(ctx context.Context, v *answers.View, b store.Board) (library.Board, error) {
	was, err := bs.changeable(ctx, v, b.ID)
	if err != nil {
		return library.Board{}, err
	}
	b.Owner = was.Owner
	if err := bs.check(ctx, v, &b, stands(was.Panels), b.Folder != was.Folder); err != nil {
		return library.Board{}, err
	}
	return bs.changed(ctx, v, &b, was.Folder)
}

// changed keeps a board that was checked, and lets every window know; before is the folder that it lay in.
func (bs *Boards) changed(ctx context.Context, v *answers.View, b *store.Board, before int64) (library.Board, error) {
	b.ChangedBy = v.Who.ID
	if err := bs.store.ChangeBoard(ctx, b); err != nil {
		return library.Board{}, library.BoardError(err, b.Title)
	}
	return bs.kept(ctx, v, b.ID, before)
}

// Delete puts a board among what was recently deleted.
func (bs *Boards) Delete(ctx context.Context, v *answers.View, id int64) error {
	was, err := bs.changeable(ctx, v, id)
	if err != nil {
		return err
	}
	if err := bs.store.DeleteBoard(ctx, id, v.Who.ID); err != nil {
		return err
	}
	bs.lib.Tell(ctx, store.KindBoard, id, was.Owner, was.Folder)
	return nil
}

// changeable opens a board that is to be changed.
func (bs *Boards) changeable(ctx context.Context, v *answers.View, id int64) (library.Board, error) {
	b, err := bs.lib.Board(ctx, v, id)
	if err == nil && !b.MayChange {
		err = fault.New(fault.Forbidden, "", "This dashboard is %s’s.", b.OwnerName)
	}
	return b, err
}

// Move puts a board into another folder.
func (bs *Boards) Move(ctx context.Context, v *answers.View, id, folder int64) (library.Board, error) {
	b, err := bs.changeable(ctx, v, id)
	if err != nil {
		return library.Board{}, err
	}
	b.Folder = folder
	return bs.Change(ctx, v, b.Board)
}

// Give makes another person the owner of a board.
func (bs *Boards) Give(ctx context.Context, v *answers.View, id, owner int64) (library.Board, error) {
	b, err := bs.changeable(ctx, v, id)
	if err != nil {
		return library.Board{}, err
	}
	if b.Owner != v.Who.ID && v.Who.Role != people.Administrator {
		return library.Board{}, fault.New(
			fault.Forbidden,
			"",
			"Only %s and administrators give this dashboard to someone else.",
			b.OwnerName,
		)
	}
	if _, err := bs.people.Who(ctx, owner); err != nil {
		return library.Board{}, fault.New(fault.Invalid, "/owner", "Choose someone who can sign in.")
	}
	before := b.Folder
	b.Owner = owner
	if b.Folder, err = bs.lib.MovesAlong(ctx, b.Folder, owner); err != nil {
		return library.Board{}, err
	}
	return bs.changed(ctx, v, &b.Board, before)
}
