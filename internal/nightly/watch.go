package nightly

import (
	"context"
	"errors"
	"log/slog"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"uzzel/internal/app"
)

// Folders in the watched one that files go to, once they were looked at.
const (
	UnderWay = "under-way" // while they are brought in
	CameIn   = "came-in"   // all of its lines
	Failed   = "failed"    // or some; what was refused stands beside it
)

// Watch brings in what is put into a folder, looking once in a while, until the context ends. A file is taken once it is
// the same as at the last look, so that none is read while it is written, and goes to folders beside it: nothing comes in
// twice. What was under way when the server stopped may have come in or not; it is not tried again, but told as failed.
func Watch(ctx context.Context, a *app.App, dir string, every time.Duration, log *slog.Logger) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	was := map[string]string{}
	if err := stopped(ctx, a, dir); err != nil {
		log.ErrorContext(ctx, "files of a folder", "error", err)
	}
	for {
		now, err := look(ctx, a, dir, was, log)
		if err != nil && ctx.Err() == nil {
			log.ErrorContext(ctx, "files of a folder", "error", err)
		}
		was = now
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// look brings in the files that are as they were, and says how those are that are left.
func look(
	ctx context.Context, a *app.App, dir string, was map[string]string, log *slog.Logger,
) (map[string]string, error) {
	names, err := Names(dir)
	if err != nil {
		return was, err
	}
	now, ready := map[string]string{}, []string{}
	for _, name := range names {
		info, err := os.Stat(filepath.Join(dir, name))
		if err != nil {
			continue // taken away meanwhile
		}
		now[name] = strconv.FormatInt(info.Size(), 10) + " " + info.ModTime().String()
		if was[name] == now[name] {
			ready = append(ready, name)
		}
	}
	if len(ready) == 0 {
		return now, nil
	}
	under := filepath.Join(dir, UnderWay)
	if err := os.MkdirAll(under, 0o750); err != nil {
		return now, err
	}
	for _, name := range ready {
		if err := os.Rename(filepath.Join(dir, name), filepath.Join(under, name)); err != nil {
			return now, err
		}
		delete(now, name)
	}
	files := Bring(ctx, a, under, ready)
	for i := range files {
		log.InfoContext(ctx, "file brought in", "file", files[i].Name, "failed", files[i].Failed())
	}
	return now, errors.Join(put(dir, files), Tell(ctx, a, files))
}

var errStopped = errors.New(
	"the server stopped while it came in; look under Bring in whether it did, and put it back if not",
)

// stopped tells of files that were under way when the server stopped.
func stopped(ctx context.Context, a *app.App, dir string) error {
	names, err := Names(filepath.Join(dir, UnderWay))
	if errors.Is(err, os.ErrNotExist) || len(names) == 0 {
		return nil
	}
	var files []File
	for _, name := range names {
		files = append(files, File{Name: name, Err: errStopped})
	}
	return errors.Join(err, put(dir, files), Tell(ctx, a, files))
}

// put moves files that were under way to where they belong by what came of them.
func put(dir string, files []File) error {
	var wrong []error
	for i := range files {
		f, to := &files[i], filepath.Join(dir, CameIn)
		if f.Failed() {
			to = filepath.Join(dir, Failed)
		}
		if err := os.MkdirAll(to, 0o750); err != nil {
			return err
		}
		place := filepath.Join(to, time.Now().UTC().Format("20060102-150405.000")+"-"+f.Name)
		wrong = append(wrong, os.Rename(filepath.Join(dir, UnderWay, f.Name), place))
		if f.Failed() {
			var told strings.Builder
			_ = f.Told(&told) // a builder takes everything
			wrong = append(wrong, os.WriteFile(place+".reasons", []byte(told.String()), 0o600))
		}
	}
	return errors.Join(wrong...)
}
