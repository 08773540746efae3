package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"runtime"
	"strings"

	"golang.org/x/sync/errgroup"

	"uzzel/core/column"
	"uzzel/core/schema"
)

// source loads columns from the file; it is a column.Source.
type source struct{ s *Store }

// loadParts is the least number of records for which a table is read by several connections at once.
const loadParts = 50_000

// Load reads all records of a type, a large table in stretches of ids side by side. Writes of this program wait until
// it is done, so that it reads one state.
func (l source) Load(ctx context.Context, b *column.Builder) error {
	if b.Type.Added {
		return nil
	}
	l.s.loading.RLock()
	defer l.s.loading.RUnlock()
	pool, err := l.s.read.DB()
	if err != nil {
		return err
	}
	var first, last sql.NullInt64
	var n int64
	row := pool.QueryRowContext(ctx, `SELECT min(id), max(id), count(*) FROM "`+b.Type.Key+`"`)
	if err := row.Scan(&first, &last, &n); err != nil || n == 0 {
		return err
	}
	parts := int64(1)
	if n > loadParts {
		parts = int64(runtime.GOMAXPROCS(0))
	}
	builders := []*column.Builder{b}
	for range parts - 1 {
		builders = append(builders, column.NewBuilder(b.Type, b.Cal))
	}
	var g errgroup.Group
	step := (last.Int64-first.Int64)/parts + 1
	for i, part := range builders {
		from := first.Int64 + int64(i)*step
		g.Go(func() error { return loadRange(ctx, pool, part, from, from+step-1) })
	}
	if err := g.Wait(); err != nil {
		return err
	}
	for _, part := range builders[1:] {
		b.Join(part)
	}
	return nil
}

// loadRange reads the records with ids from one to another straight from the driver, which spares a conversion of
// every value.
func loadRange(ctx context.Context, pool *sql.DB, b *column.Builder, from, to int64) (err error) {
	t := b.Type
	cols, fields, added := []string{"id"}, []int{}, false
	for i := range t.Fields {
		f := &t.Fields[i]
		switch {
		case f.Worked != nil || f.Kind == schema.ID:
		case f.Added:
			added = true
		default:
			cols, fields = append(cols, columnSQL(t, f)), append(fields, i)
		}
	}
	if added {
		cols = append(cols, "added")
	}
	query := "SELECT " + strings.Join(cols, ", ") + ` FROM "` + t.Key + `" WHERE id BETWEEN ? AND ? ORDER BY id`
	conn, err := pool.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, conn.Close()) }()
	return conn.Raw(func(dc any) error {
		q, ok := dc.(driver.QueryerContext)
		if !ok {
			return fmt.Errorf("the database driver cannot be asked directly")
		}
		rows, err := q.QueryContext(ctx, query, []driver.NamedValue{{Ordinal: 1, Value: from}, {Ordinal: 2, Value: to}})
		if err != nil {
			return err
		}
		return errors.Join(readRows(rows, b, fields, added), rows.Close())
	})
}

func readRows(rows driver.Rows, b *column.Builder, fields []int, added bool) error {
	vals := make([]driver.Value, len(rows.Columns()))
	for {
		if err := rows.Next(vals); err != nil {
			if errors.Is(err, io.EOF) {
				return nil
			}
			return err
		}
		id, ok := vals[0].(int64)
		if !ok {
			return fmt.Errorf("%s: the id %v is not a whole number", b.Type.Key, vals[0])
		}
		b.RowNumber(id)
		for i, f := range fields {
			if err := setValue(b, f, vals[i+1]); err != nil {
				return fmt.Errorf("%s %d: %w", b.Type.One, id, err)
			}
		}
		if more, ok := vals[len(vals)-1].(string); added && ok {
			if err := setAdded(b, more); err != nil {
				return err
			}
		}
	}
}

func setValue(b *column.Builder, f int, v driver.Value) error {
	field := &b.Type.Fields[f]
	switch v := v.(type) {
	case nil:
	case string:
		if !field.Kind.Coded() {
			return fmt.Errorf("%s is kept as text", field.Key)
		}
		b.SetText(f, v)
	case int64:
		switch {
		case field.Kind.Coded():
			b.SetText(f, fmt.Sprint(v))
		case field.Kind == schema.Link:
			b.SetLinkNumber(f, v)
		default:
			b.SetInner(f, v)
		}
	default:
		return fmt.Errorf("%s is kept as %T", field.Key, v)
	}
	return nil
}
