package desk

import (
	"cmp"
	"context"
	"errors"
	"maps"
	"slices"

	"uzzel/internal/store"
)

// Board is a dashboard, open.
type Board struct {
	store.Board
	MayChange bool
	OwnerName string
}

func (d *Desk) openBoard(who Person, b store.Board, in folders) Board {
	f := in[b.Folder] // none where the owner may no longer open it
	may := who.MayCompose() && (b.Owner == who.ID || who.Role == Administrator || (f != nil && f.MayChange(who.viewer())))
	return Board{b, may, d.personName(b.Owner)}
}

// Boards lists the boards that a person may open: those that the person has put in order, then the others by title.
func (d *Desk) Boards(ctx context.Context, who Person) ([]Board, error) {
	in, err := d.folders(ctx, who)
	if err != nil {
		return nil, err
	}
	rows, err := d.store.Boards(ctx, who.viewer())
	if err != nil {
		return nil, err
	}
	places, err := d.store.BoardOrder(ctx, who.ID)
	list := []Board{}
	for _, b := range rows {
		list = append(list, d.openBoard(who, b, in))
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
func (d *Desk) Board(ctx context.Context, who Person, id int64) (Board, error) {
	b, err := d.store.Board(ctx, who.viewer(), id)
	if err != nil {
		return Board{}, mapStore(err, "dashboard")
	}
	in, err := d.folders(ctx, who)
	return d.openBoard(who, b, in), err
}

// BoardReports opens the reports that stand on a board, each once; those that a person may not open are left out.
func (d *Desk) BoardReports(ctx context.Context, who Person, id int64) ([]Report, error) {
	b, err := d.Board(ctx, who, id)
	if err != nil {
		return nil, err
	}
	rows, err := d.store.ReportsOf(ctx, who.viewer(), slices.Collect(maps.Keys(stands(b.Panels))))
	if err != nil {
		return nil, err
	}
	return d.openReports(ctx, who, rows)
}

// MaxPanels is how many panels a board has at most.
const MaxPanels = 60

// checkBoard checks a board that is to be kept; was says which reports stood on it before, into whether it is put into
// another folder than it lay in.
func (d *Desk) checkBoard(ctx context.Context, who Person, b *store.Board, was map[int64]bool, into bool) error {
	var err error
	if b.Title, err = title(b.Title, "/title"); err != nil {
		return err
	}
	if len(b.Panels) > MaxPanels {
		return fail(Invalid, "/panels", "A dashboard has %d panels at most.", MaxPanels)
	}
	for i := range b.Panels {
		p := &b.Panels[i]
		if p.X < 0 || p.Y < 0 || p.W < 1 || p.H < 1 || p.X+p.W > 12 || p.Y > 10000 || p.H > 100 {
			return fail(Invalid, "/panels", "A panel lies outside the dashboard.")
		}
		p.ID = 0
		if err := checkPanel(p, i); err != nil {
			return err
		}
		if was[p.Report] || p.Report == 0 {
			continue // it may be deleted, or one that only others may open: it stays where it is
		}
		if _, err := d.store.Report(ctx, who.viewer(), p.Report); err != nil {
			return mapStore(err, "report")
		}
	}
	if err := d.checkFilters(b.Filters); err != nil {
		return err
	}
	if into {
		return d.checkFolder(ctx, who, b.Folder, b.Owner)
	}
	return nil
}

// AddBoard makes a board.
func (d *Desk) AddBoard(ctx context.Context, who Person, b store.Board) (Board, error) {
	if !who.MayCompose() {
		return Board{}, fail(Forbidden, "", "Only composers and administrators make dashboards.")
	}
	b.Owner = who.ID
	if err := d.checkBoard(ctx, who, &b, nil, true); err != nil {
		return Board{}, err
	}
	if err := d.store.AddBoard(ctx, &b); err != nil {
		return Board{}, boardError(err, b.Title)
	}
	return d.boardKept(ctx, who, b.ID, b.Folder)
}

// boardKept tells whoever it concerns that a board is kept, and opens it; before is the folder that it lay in.
func (d *Desk) boardKept(ctx context.Context, who Person, id, before int64) (Board, error) {
	ctx = context.WithoutCancel(ctx)
	b, err := d.Board(ctx, who, id)
	if err == nil {
		d.tellOf(ctx, store.KindBoard, id, b.Owner, before, b.Folder)
	}
	return b, err
}

func boardError(err error, title string) error {
	if errors.Is(err, store.ErrTaken) {
		return fail(Taken, "/title", "There is a dashboard named “%s” in this folder already.", title)
	}
	return mapStore(err, "dashboard")
}

// ChangeBoard keeps a changed board.
func (d *Desk) ChangeBoard(ctx context.Context, who Person, b store.Board) (Board, error) {
	was, err := d.changeableBoard(ctx, who, b.ID)
	if err != nil {
		return Board{}, err
	}
	b.Owner = was.Owner
	if err := d.checkBoard(ctx, who, &b, stands(was.Panels), b.Folder != was.Folder); err != nil {
		return Board{}, err
	}
	return d.boardChanged(ctx, who, &b, was.Folder)
}

// boardChanged keeps a board that was checked, and lets every window know; before is the folder that it lay in.
func (d *Desk) boardChanged(ctx context.Context, who Person, b *store.Board, before int64) (Board, error) {
	b.ChangedBy = who.ID
	if err := d.store.ChangeBoard(ctx, b); err != nil {
		return Board{}, boardError(err, b.Title)
	}
	return d.boardKept(ctx, who, b.ID, before)
}

// DeleteBoard puts a board among what was recently deleted.
func (d *Desk) DeleteBoard(ctx context.Context, who Person, id int64) error {
	was, err := d.changeableBoard(ctx, who, id)
	if err != nil {
		return err
	}
	if err := d.store.DeleteBoard(ctx, id, who.ID); err != nil {
		return err
	}
	d.tellOf(ctx, store.KindBoard, id, was.Owner, was.Folder)
	return nil
}

// changeableBoard opens a board that is to be changed.
func (d *Desk) changeableBoard(ctx context.Context, who Person, id int64) (Board, error) {
	b, err := d.Board(ctx, who, id)
	if err == nil && !b.MayChange {
		err = fail(Forbidden, "", "This dashboard is %s’s.", b.OwnerName)
	}
	return b, err
}

// MoveBoard puts a board into another folder.
func (d *Desk) MoveBoard(ctx context.Context, who Person, id, folder int64) (Board, error) {
	b, err := d.changeableBoard(ctx, who, id)
	if err != nil {
		return Board{}, err
	}
	b.Folder = folder
	return d.ChangeBoard(ctx, who, b.Board)
}

// GiveBoard makes another person the owner of a board.
func (d *Desk) GiveBoard(ctx context.Context, who Person, id, owner int64) (Board, error) {
	b, err := d.changeableBoard(ctx, who, id)
	if err != nil {
		return Board{}, err
	}
	if b.Owner != who.ID && who.Role != Administrator {
		return Board{}, fail(Forbidden, "", "Only %s and administrators give this dashboard to someone else.", b.OwnerName)
	}
	if _, err := d.Who(ctx, owner); err != nil {
		return Board{}, fail(Invalid, "/owner", "Choose someone who can sign in.")
	}
	before := b.Folder
	b.Owner = owner
	if b.Folder, err = d.movesAlong(ctx, b.Folder, owner); err != nil {
		return Board{}, err
	}
	return d.boardChanged(ctx, who, &b.Board, before)
}
