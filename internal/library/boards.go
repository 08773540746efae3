package library

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
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

func openBoard(v *answers.View, b store.Board, in Reach) Board {
	return Board{
		b,
		v.Who.MayCompose() && in.mayChange(v, store.Item{Kind: store.KindBoard, Item: b.ID}, b.Owner, b.Folder),
		MayShare(v, b.Owner),
		people.Name(v.Snap, b.Owner),
	}
}

// Boards lists the boards that a person may open: those that the person has put in order, then the others by title.
func (lib *Library) Boards(ctx context.Context, v *answers.View) ([]Board, error) {
	rows, err := lib.store.Boards(ctx, v.Who.Viewer())
	if err != nil {
		return nil, err
	}
	places, err := lib.store.BoardOrder(ctx, v.Who.ID)
	if err != nil {
		return nil, err
	}
	list, err := lib.openBoards(ctx, v, rows)
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

// DeletedBoards lists the boards that a person could open until they were deleted lately.
func (lib *Library) DeletedBoards(ctx context.Context, v *answers.View) ([]Board, error) {
	rows, err := lib.store.DeletedBoards(ctx, v.Who.Viewer())
	if err != nil {
		return nil, err
	}
	return lib.openBoards(ctx, v, rows)
}

func (lib *Library) openBoards(ctx context.Context, v *answers.View, rows []store.Board) ([]Board, error) {
	in, err := lib.Reach(ctx, v)
	list := []Board{}
	for _, b := range rows {
		list = append(list, openBoard(v, b, in))
	}
	return list, err
}

// Board opens a board.
func (lib *Library) Board(ctx context.Context, v *answers.View, id int64) (Board, error) {
	b, err := lib.store.Board(ctx, v.Who.Viewer(), id)
	if err != nil {
		return Board{}, fault.FromStore(err, "dashboard")
	}
	in, err := lib.Reach(ctx, v)
	return openBoard(v, b, in), err
}

// BoardError says in words what the store refused of a dashboard.
func BoardError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fault.New(fault.Taken, "/title", "There is a dashboard named “%s” in this folder already.", title)
	}
	return fault.FromStore(err, "dashboard")
}
