package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"uzzel/internal/answers"
	"uzzel/internal/app"
	"uzzel/internal/store"
)

// refusedLines is the exit code where all files were brought in, but for some of their lines.
const refusedLines = 3

// again brings the files of a folder into a data file in use, each as the latest with the same columns was: records that
// others link to first. It prints a line of counts a file, and each line that is refused with why.
func again(ctx context.Context, s *store.Store, dir string, w io.Writer) error {
	clock, err := app.Clock(s, "")
	if err != nil {
		return err
	}
	a, err := app.New(s, clock, nil)
	if err != nil {
		return err
	}
	entries, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	type file struct {
		name, of string
		data     []byte
	}
	var files []file
	for _, e := range entries {
		ext := strings.ToLower(filepath.Ext(e.Name()))
		if e.IsDir() || !slices.Contains([]string{".csv", ".txt", ".tsv", ".xlsx"}, ext) {
			continue
		}
		data, err := os.ReadFile(filepath.Join(dir, e.Name()))
		if err != nil {
			return err
		}
		of, err := a.BringIn.Of(ctx, e.Name(), data)
		if err != nil {
			return fmt.Errorf("%s: %w", e.Name(), err)
		}
		files = append(files, file{e.Name(), of, data})
	}
	if len(files) == 0 {
		return fmt.Errorf("%s has no file to bring in: .csv, .txt, .tsv or .xlsx", dir)
	}
	order := map[string]int{}
	for i, t := range s.Schema().Types {
		order[t.Key] = i
	}
	slices.SortStableFunc(files, func(a, b file) int { return cmp.Compare(order[a.of], order[b.of]) })
	as := func(person int64) (*answers.View, error) {
		who, err := a.People.Who(ctx, person)
		if err != nil {
			return nil, fmt.Errorf("who brought in the last such file cannot sign in any more: %w", err)
		}
		return a.View(who), nil
	}
	refused := 0
	var failed []error
	for _, f := range files {
		_, out, err := a.BringIn.Again(ctx, as, f.name, f.data)
		if err != nil {
			failed = append(failed, fmt.Errorf("%s: %w", f.name, err))
			continue
		}
		refused += len(out.Refused)
		_, err = fmt.Fprintf(
			w,
			"%s: %d new, %d changed, %d as they are, %d refused\n",
			f.name,
			out.New,
			out.Changed,
			out.Same,
			len(out.Refused),
		)
		if err != nil {
			return err
		}
		for _, r := range out.Refused {
			if _, err := fmt.Fprintf(w, "  line %d, %s: %s\n", r.Line, r.Column, r.Reason); err != nil {
				return err
			}
		}
	}
	if err := errors.Join(failed...); err != nil {
		return err
	}
	if refused > 0 {
		return exitError{refusedLines, fmt.Errorf("%d lines were refused", refused)}
	}
	return nil
}
