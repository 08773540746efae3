package main

import (
	"context"
	"errors"
	"fmt"
	"io"

	"uzzel/internal/nightly"
	"uzzel/internal/store"
)

// refusedLines is the exit code where all files were brought in, but for some of their lines.
const refusedLines = 3

// again brings the files of a folder into a data file in use, each as the latest with the same columns was. It prints a
// line of counts a file, and each line that is refused with why; who brought in the latest is told where it fails.
func again(ctx context.Context, s *store.Store, dir string, w io.Writer) error {
	a, err := application(s)
	if err != nil {
		return err
	}
	names, err := nightly.Names(dir)
	if err != nil {
		return err
	}
	if len(names) == 0 {
		return fmt.Errorf("%s has no file to bring in: .csv, .txt, .tsv or .xlsx", dir)
	}
	files, refused, failed := nightly.Bring(ctx, a, dir, names), 0, []error{}
	for i := range files {
		f := &files[i]
		if f.Err != nil {
			failed = append(failed, fmt.Errorf("%s: %w", f.Name, f.Err))
			continue
		}
		refused += len(f.Outcome.Refused)
		if err := f.Told(w); err != nil {
			return err
		}
	}
	if err := nightly.Tell(ctx, a, files); err != nil {
		failed = append(failed, fmt.Errorf("a mail of it: %w", err))
	}
	if err := errors.Join(failed...); err != nil {
		return err
	}
	if refused > 0 {
		return exitError{refusedLines, fmt.Errorf("%d lines were refused", refused)}
	}
	return nil
}
