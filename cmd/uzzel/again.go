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

	"uzzel/internal/app"
	"uzzel/internal/bringin"
	"uzzel/internal/store"
)

// refusedLines is the exit code where all files were brought in, but for some of their lines.
const refusedLines = 3

// again brings the files of a folder into a data file in use, each as the latest with the same columns was: records that
// others link to first. It prints a line of counts a file, and each line that is refused with why.
func again(ctx context.Context, s *store.Store, dir string, w io.Writer) error {
	a, err := application(s)
	if err != nil {
		return err
	}
	entries, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	type file struct {
		name  string
		known bringin.Known
	}
	var files []file
	var failed []error
	for _, e := range entries {
		ext := strings.ToLower(filepath.Ext(e.Name()))
		if e.IsDir() || !slices.Contains([]string{".csv", ".txt", ".tsv", ".xlsx"}, ext) {
			continue
		}
		data, err := os.ReadFile(filepath.Join(dir, e.Name()))
		if err != nil {
			return err
		}
		known, err := a.BringIn.Know(ctx, e.Name(), data)
		if err != nil {
			failed = append(failed, fmt.Errorf("%s: %w", e.Name(), err))
			continue
		}
		files = append(files, file{e.Name(), known})
	}
	if len(files)+len(failed) == 0 {
		return fmt.Errorf("%s has no file to bring in: .csv, .txt, .tsv or .xlsx", dir)
	}
	order := map[string]int{}
	for i, t := range s.Schema().Types {
		order[t.Key] = i
	}
	slices.SortStableFunc(files, func(a, b file) int { return cmp.Compare(order[a.known.Type], order[b.known.Type]) })
	refused := 0
	for _, f := range files {
		out, err := bring(ctx, a, f.known)
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

// bring brings a file in for whoever brought the last such file in, with the records as they are by now.
func bring(ctx context.Context, a *app.App, k bringin.Known) (*bringin.Outcome, error) {
	who, err := a.People.Who(ctx, k.Person)
	if err != nil {
		return nil, fmt.Errorf("who brought in the last such file cannot sign in any more: %w", err)
	}
	_, out, err := a.BringIn.Again(ctx, a.View(who), k)
	return out, err
}
