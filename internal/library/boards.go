package library

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/people"
	"uzzel/internal/store"
)

// Board is a dashboard, open.
type Board struct {
	store.Board
	MayChange bool
	MayShare  bool
	OwnerName string
}

func openBoard(v *answers.View, b store.Board, in reach) Board {
	return Board{b, v.Who.MayCompose() && in.mayChange(v, store.Item{Kind: store.KindBoard, Item: b.ID}, b.Owner, b.Folder), MayShare(v, b.Owner), people.Name(v.Snap, b.Owner)}
}

// Boards lists the boards that a person may open: those that the person has put in order, then the others by title.
func (lib *Library) Boards(ctx context.Context, v *answers.View) ([]Board, error) {
	in, err := lib.reach(ctx, v)
	if err != nil {
		return nil, err
	}
	rows, err := lib.store.Boards(ctx, v.Who.Viewer())
	if err != nil {
		return nil, err
	}
	places, err := lib.store.BoardOrder(ctx, v.Who.ID)
	list := []Board{}
	for _, b := range rows {
		list = append(list, openBoard(v, b, in))
	}
	slices.SortStableFunc(list, func(a, b Board) int {
		at, aOK := places[a.ID]
		bt, bOK := places[b.ID]
		switch {
		case aOK != bOK:
			return map[bool]int{true: -1, false: 1}[aOK]
		case !aOK:
			return 0
		}
		return cmp.Compare(at, bt)
	})
	return list, err
}

// Board opens a board.
func (lib *Library) Board(ctx context.Context, v *answers.View, id int64) (Board, error) {
	b, err := lib.store.Board(ctx, v.Who.Viewer(), id)
	if err != nil {
		return Board{}, fault.FromStore(err, "dashboard")
	}
	in, err := lib.reach(ctx, v)
	return openBoard(v, b, in), err
}

// MaxPanels is how many panels a board has at most.
const MaxPanels = 60

// checkBoard checks a board that is to be kept; was says which reports stood on it before, into whether it is put into
// another folder than it lay in.
func (lib *Library) checkBoard(ctx context.Context, v *answers.View, b *store.Board, was map[int64]bool, into bool) error {
	var err error
	if b.Title, err = naming.Title(b.Title, "/title"); err != nil {
		return err
	}
	if len(b.Panels) > MaxPanels {
		return fault.New(fault.Invalid, "/panels", "A dashboard has %d panels at most.", MaxPanels)
	}
	for i := range b.Panels {
		p := &b.Panels[i]
		if p.X < 0 || p.Y < 0 || p.W < 1 || p.H < 1 || p.X+p.W > 12 || p.Y > 10000 || p.H > 100 {
			return fault.New(fault.Invalid, "/panels", "A panel lies outside the dashboard.")
		}
		p.ID = 0
		if err := checkPanel(v, p, i); err != nil {
			return err
		}
		if was[p.Report] || p.Report == 0 {
			continue // it may be deleted, or one that only others may open: it stays where it is
		}
		if _, err := lib.store.Report(ctx, v.Who.Viewer(), p.Report); err != nil {
			return fault.FromStore(err, "report")
		}
	}
	if err := checkFilters(v, b.Filters); err != nil {
		return err
	}
	if into {
		return lib.checkFolder(ctx, v, b.Folder, b.Owner)
	}
	return nil
}

// AddBoard makes a board.
func (lib *Library) AddBoard(ctx context.Context, v *answers.View, b store.Board) (Board, error) {
	if !v.Who.MayCompose() {
		return Board{}, fault.New(fault.Forbidden, "", "Only composers and administrators make dashboards.")
	}
	b.Owner = v.Who.ID
	if err := lib.checkBoard(ctx, v, &b, nil, true); err != nil {
		return Board{}, err
	}
	if err := lib.store.AddBoard(ctx, &b); err != nil {
		return Board{}, boardError(err, b.Title)
	}
	return lib.boardKept(ctx, v, b.ID, b.Folder)
}

// boardKept tells whoever it concerns that a board is kept, and opens it; before is the folder that it lay in.
func (lib *Library) boardKept(ctx context.Context, v *answers.View, id, before int64) (Board, error) {
	ctx = context.WithoutCancel(ctx)
	b, err := lib.Board(ctx, v, id)
	if err == nil {
		lib.tellOf(ctx, store.KindBoard, id, b.Owner, before, b.Folder)
	}
	return b, err
}

func boardError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fault.New(fault.Taken, "/title", "There is a dashboard named “%s” in this folder already.", title)
	}
	return fault.FromStore(err, "dashboard")
}

// ChangeBoard keeps a changed board.
func (lib *Library) ChangeBoard(ctx context.Context, v *answers.View, b store.Board) (Board, error) {
	was, err := lib.changeableBoard(ctx, v, b.ID)
	if err != nil {
		return Board{}, err
	}
	b.Owner = was.Owner
	if err := lib.checkBoard(ctx, v, &b, stands(was.Panels), b.Folder != was.Folder); err != nil {
		return Board{}, err
	}
	return lib.boardChanged(ctx, v, &b, was.Folder)
}

// boardChanged keeps a board that was checked, and lets every window know; before is the folder that it lay in.
func (lib *Library) boardChanged(ctx context.Context, v *answers.View, b *store.Board, before int64) (Board, error) {
	b.ChangedBy = v.Who.ID
	if err := lib.store.ChangeBoard(ctx, b); err != nil {
		return Board{}, boardError(err, b.Title)
	}
	return lib.boardKept(ctx, v, b.ID, before)
}

// DeleteBoard puts a board among what was recently deleted.
func (lib *Library) DeleteBoard(ctx context.Context, v *answers.View, id int64) error {
	was, err := lib.changeableBoard(ctx, v, id)
	if err != nil {
		return err
	}
	if err := lib.store.DeleteBoard(ctx, id, v.Who.ID); err != nil {
		return err
	}
	lib.tellOf(ctx, store.KindBoard, id, was.Owner, was.Folder)
	return nil
}

// changeableBoard opens a board that is to be changed.
func (lib *Library) changeableBoard(ctx context.Context, v *answers.View, id int64) (Board, error) {
	b, err := lib.Board(ctx, v, id)
	if err == nil && !b.MayChange {
		err = fault.New(fault.Forbidden, "", "This dashboard is %s’s.", b.OwnerName)
	}
	return b, err
}

// MoveBoard puts a board into another folder.
func (lib *Library) MoveBoard(ctx context.Context, v *answers.View, id, folder int64) (Board, error) {
	b, err := lib.changeableBoard(ctx, v, id)
	if err != nil {
		return Board{}, err
	}
	b.Folder = folder
	return lib.ChangeBoard(ctx, v, b.Board)
}

// GiveBoard makes another person the owner of a board.
func (lib *Library) GiveBoard(ctx context.Context, v *answers.View, id, owner int64) (Board, error) {
	b, err := lib.changeableBoard(ctx, v, id)
	if err != nil {
		return Board{}, err
	}
	if b.Owner != v.Who.ID && v.Who.Role != people.Administrator {
		return Board{}, fault.New(fault.Forbidden, "", "Only %s and administrators give this dashboard to someone else.", b.OwnerName)
	}
	if _, err := lib.people.Who(ctx, owner); err != nil {
		return Board{}, fault.New(fault.Invalid, "/owner", "Choose someone who can sign in.")
	}
	before := b.Folder
	b.Owner = owner
	if b.Folder, err = lib.movesAlong(ctx, b.Folder, owner); err != nil {
		return Board{}, err
	}
	return lib.boardChanged(ctx, v, &b.Board, before)
}
