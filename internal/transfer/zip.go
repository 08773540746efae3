package transfer

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"uzzel/internal/store"
)

// maxUnzipped is how much a zip unpacks to at most, of all its files together.
const maxUnzipped = 8 << 30

// IsZip says whether a path names one file instead of a folder.
func IsZip(path string) bool { return strings.EqualFold(filepath.Ext(path), ".zip") }

// OutZip is Out into one file, which is not there yet and is whole once it has its name.
func OutZip(ctx context.Context, s *store.Store, path string) (counts []Counted, err error) {
	if _, err := os.Stat(path); err == nil {
		return nil, fmt.Errorf("%s is there already; name another", path)
	}
	dir, err := os.MkdirTemp(filepath.Dir(path), "export")
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	folder := filepath.Join(dir, "out")
	if counts, err = Out(ctx, s, folder); err != nil {
		return nil, err
	}
	part := filepath.Join(dir, "part.zip")
	if err := pack(folder, part); err != nil {
		return nil, err
	}
	return counts, os.Rename(part, path)
}

func pack(folder, to string) (err error) {
	f, err := os.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	w := zip.NewWriter(f)
	defer func() { err = errors.Join(err, w.Close(), f.Close()) }()
	return w.AddFS(os.DirFS(folder))
}

// InZip is In of one file.
func InZip(ctx context.Context, s *store.Store, path string) (counts []Counted, err error) {
	dir, err := os.MkdirTemp(filepath.Dir(path), "import")
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	if err := unpack(path, dir); err != nil {
		return nil, err
	}
	return In(ctx, s, dir)
}

// unpack takes the CSV files and the settings out of a zip, and nothing else; names that lead elsewhere are refused.
func unpack(path, dir string) (err error) {
	z, err := zip.OpenReader(path)
	if err != nil {
		return fmt.Errorf("%s is no zip that can be read: %w", path, err)
	}
	defer func() { err = errors.Join(err, z.Close()) }()
	left := int64(maxUnzipped)
	for _, f := range z.File {
		name := f.Name
		if name != filepath.Base(name) || (name != "settings.json" && filepath.Ext(name) != ".csv") {
			return fmt.Errorf("%s holds %q, which is no file of an organisation", path, name)
		}
		n, err := unpackOne(f, filepath.Join(dir, name), left)
		if err != nil {
			return err
		}
		if left -= n; left <= 0 {
			return fmt.Errorf("%s unpacks to more than %d GB", path, maxUnzipped>>30)
		}
	}
	return nil
}

func unpackOne(f *zip.File, to string, most int64) (n int64, err error) {
	in, err := f.Open()
	if err != nil {
		return 0, err
	}
	out, err := os.OpenFile(to, os.O_CREATE|os.O_WRONLY|os.O_EXCL, 0o600)
	if err != nil {
		return 0, errors.Join(err, in.Close())
	}
	n, err = io.CopyN(out, in, most)
	if errors.Is(err, io.EOF) {
		err = nil
	}
	return n, errors.Join(err, in.Close(), out.Close())
}
