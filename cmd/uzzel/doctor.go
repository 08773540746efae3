package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"uzzel/internal/answers"
	"uzzel/internal/store"
)

func doctorCommand() *cobra.Command {
	var db string
	c := &cobra.Command{
		Use:   "doctor",
		Short: "Look a data file over: whether it is sound, served, has room, and what people may see",
		Args:  cobra.NoArgs,
		RunE:  func(cmd *cobra.Command, _ []string) error { return doctor(cmd.Context(), db, os.Stdout) },
	}
	dataFile(c, &db, ours)
	return c
}

// errUnwell ends the command with a code of its own where something wants doing.
var errUnwell = errors.New("something wants doing")

// doctor writes what it finds, a line each: ok, !! for what is wrong and what to do, -- for what it cannot know.
func doctor(ctx context.Context, path string, out io.Writer) (err error) {
	well := true
	line := func(ok bool, what, format string, args ...any) {
		mark := "ok  "
		if !ok {
			mark, well = "!!  ", false
		}
		_, _ = fmt.Fprintf(out, "%s%-14s %s\n", mark, what, fmt.Sprintf(format, args...))
	}
	if _, err := os.Stat(path); err != nil {
		return err
	}
	release, err := store.Serve(path)
	switch {
	case errors.Is(err, store.ErrServed):
		line(true, "server", "a server is using the file")
	case err != nil:
		line(false, "server", "%s", err)
	default:
		line(true, "server", "no server is using the file")
		defer func() { err = errors.Join(err, release()) }()
	}
	s, err := store.Open(path)
	if err != nil {
		line(false, "file", "%s", err)
		return exitError{3, errUnwell}
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	if faults, err := s.Sound(ctx); err != nil || len(faults) > 0 {
		line(false, "file", "not sound: %v %v; bring back the last backup, and keep this file", faults, err)
	} else {
		line(true, "file", "sound")
	}
	version, err := s.Migration(ctx)
	line(err == nil, "version", "%s %s", version, orNothing(err))
	if free, err := s.Free(); err != nil || free < 1<<30 {
		line(false, "room", "%d MB free %s; make room before the disk is full", free>>20, orNothing(err))
	} else {
		line(true, "room", "%d MB free", free>>20)
	}
	latest, err := s.Latest(ctx)
	ahead := latest.After(time.Now().Add(5 * time.Minute))
	line(
		err == nil && !ahead,
		"clock",
		"the last change was made %s; it is %s now %s",
		latest.UTC().Format(time.DateTime),
		time.Now().UTC().Format(time.DateTime),
		orNothing(err),
	)
	_, _ = fmt.Fprintf(
		out,
		"--  %-14s none is known here: keep copies of the file, taken while no server is using it\n",
		"backup",
	)
	sees, err := s.Sees(ctx)
	if err != nil {
		line(false, "sight", "%s", err)
	}
	for _, t := range s.Schema().Types {
		how := map[string]string{"": "everyone sees all", "team": "people see their team's and their own", "own": "people see their own"}[sees[t.Key]]
		if t.Owner == "" {
			how = "everyone sees all"
			if to := s.Schema().BelongsTo(t); len(to) > 0 {
				how = "seen with what they belong to"
			}
		}
		line(true, "sight", "%s: %s", t.Label, how)
	}
	if kept, err := answers.ReadSees(ctx, s); err != nil {
		line(false, "sight", "%s", err)
	} else if n := len(kept.Exceptions); n > 0 {
		line(true, "sight", "%d exceptions for people and teams", n)
	}
	if !well {
		return exitError{3, errUnwell}
	}
	return nil
}

func orNothing(err error) string {
	if err == nil {
		return ""
	}
	return "(" + err.Error() + ")"
}
