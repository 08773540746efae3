// Package scratch gives benchmarks a copy of a data file to work on.
package scratch

import (
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
)

// Copy copies a data file into a folder beside it; away takes that away again.
func Copy(from string) (path string, away func() error, err error) {
	dir, err := os.MkdirTemp(filepath.Dir(from), "scratch")
	if err != nil {
		return "", nil, err
	}
	path = filepath.Join(dir, "copy.db")
	away = func() error { return os.RemoveAll(dir) }
	if err := duplicate(from, path); err != nil {
		return "", nil, errors.Join(err, away())
	}
	return path, away, nil
}

// Main measures on a copy of the data file that is named on the command line, and ends the program with what went wrong.
func Main(measure func(path string) error) {
	db := flag.String("db", ".cache/bench-1000000.db", "a data file that bench made")
	flag.Parse()
	path, away, err := Copy(*db)
	if err == nil {
		err = errors.Join(measure(path), away())
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func duplicate(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	out, err := os.Create(to)
	if err != nil {
		return errors.Join(err, in.Close())
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, in.Close(), out.Close())
}
