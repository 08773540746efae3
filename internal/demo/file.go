package demo

import (
	"context"
	"errors"
	"fmt"
	"os"

	"uzzel/internal/store"
)

// Ensure sees to it that a file holds the demo company, and says whether it had to be made. It is made beside its place
// and put there when it is whole, so that whoever is stopped in between leaves nothing half made; what an older version
// left half made is made anew. Nobody may be serving the file meanwhile.
func Ensure(ctx context.Context, path string, today int32, seed uint64) (made bool, err error) {
	whole, err := isWhole(ctx, path)
	if err != nil || whole {
		return false, err
	}
	if err := Remove(path); err != nil {
		return false, err
	}
	fresh := path + ".making"
	if err := Remove(fresh); err != nil {
		return false, err
	}
	s, err := store.Open(fresh)
	if err != nil {
		return false, err
	}
	if err := errors.Join(Make(ctx, s, today, seed), s.Close()); err != nil {
		return false, errors.Join(fmt.Errorf("making the demo: %w", err), Remove(fresh))
	}
	return true, os.Rename(fresh, path)
}

// isWhole says whether a file holds a company and people who can sign in.
func isWhole(ctx context.Context, path string) (whole bool, err error) {
	if _, err := os.Stat(path); errors.Is(err, os.ErrNotExist) {
		return false, nil
	}
	s, err := store.Open(path)
	if err != nil {
		return false, err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	name, err := s.Organisation(ctx)
	if err != nil {
		return false, err
	}
	accounts, err := s.Accounts(ctx)
	if err != nil {
		return false, err
	}
	reports, err := s.Reports(ctx, store.Viewer{Administrator: true})
	if err != nil {
		return false, err
	}
	// A company of another name is nobody's demo, however little it holds.
	return (name != "" && name != Name) || (name == Name && len(accounts) > 0 && len(reports) > 0), nil
}

// Remove takes a data file away, with what SQLite keeps beside it.
func Remove(path string) error {
	for _, end := range []string{"", "-wal", "-shm"} {
		if err := os.Remove(path + end); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}
