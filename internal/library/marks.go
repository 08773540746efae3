package library

import (
	"context"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// SetFavourite marks a report, board or folder as a favourite of a person, or no longer.
func (lib *Library) SetFavourite(ctx context.Context, v *answers.View, i store.Item, on bool) error {
	if err := lib.mayOpen(ctx, v, i); err != nil {
		return err
	}
	return lib.store.SetFavourite(ctx, v.Who.ID, i, on)
}

// NoteOpened remembers that a person opened something.
func (lib *Library) NoteOpened(ctx context.Context, v *answers.View, i store.Item) error {
	if err := lib.mayOpen(ctx, v, i); err != nil {
		return err
	}
	return lib.store.NoteOpened(ctx, v.Who.ID, i)
}

func (lib *Library) mayOpen(ctx context.Context, v *answers.View, i store.Item) error {
	switch i.Kind {
	case store.KindReport:
		_, err := lib.Report(ctx, v, i.Item)
		return err
	case store.KindBoard:
		_, err := lib.Board(ctx, v, i.Item)
		return err
	case store.KindFolder:
		in, err := lib.Reach(ctx, v)
		if err == nil && in.Folders[i.Item] == nil {
			err = fault.FromStore(store.ErrNotFound, "folder")
		}
		return err
	}
	return fault.New(fault.Invalid, "/kind", "a kind is report, board or folder, not %q", i.Kind)
}
