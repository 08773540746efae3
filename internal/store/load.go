package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"runtime"
	"strconv"
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
	l.s.loading.RLock()
	defer l.s.loading.RUnlock()
	pool, err := l.s.read.DB()
	if err != nil {
		return err
	}
	var first, last sql.NullInt64
	var n int64
	row := pool.QueryRowContext(ctx, `SELECT min(id), max(id), count(*) FROM "`+tableOf(b.Type)+`"`)
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

// chunkRows is how many records are asked for at once.
const chunkRows = 16384

// loadRange reads the records with ids from one to another, a chunk at a time. Asking the driver for each value of each
// record costs more than all else, so the database is asked to put the values of a chunk together, a text a field, and
// hands on a few long texts (docs/decisions/0006). A chunk that cannot be taken apart again is read record by record.
func loadRange(ctx context.Context, pool *sql.DB, b *column.Builder, from, to int64) (err error) {
	l := newLoader(b)
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
		for from <= to {
			next, more, err := l.chunk(ctx, q, from, to)
			if err != nil || !more {
				return err
			}
			from = next
		}
		return nil
	})
}

// loader reads one stretch of the records of a type.
type loader struct {
	b      *column.Builder
	fields []int // of the type, in the order they are asked for
	cols   []string
	ints   []int64
	texts  []string
}

func newLoader(b *column.Builder) *loader {
	l := &loader{b: b}
	for i := range b.Type.Fields {
		f := &b.Type.Fields[i]
		switch {
		case f.Worked != nil || f.Kind == schema.ID:
		default:
			l.fields, l.cols = append(l.fields, i), append(l.cols, columnSQL(b.Type, f))
		}
	}
	return l
}

// separator is between the values of a chunk. A chunk with a text that has it inside does not come apart, which is
// seen from the number of pieces.
const (
	separator = 0x1f
	sep       = string(rune(separator))
)

// chunk reads up to chunkRows records from an id on, and says from where to go on.
func (l *loader) chunk(
	ctx context.Context,
	q driver.QueryerContext,
	from, to int64,
) (next int64, more bool, err error) {
	table := ` FROM "` + tableOf(l.b.Type) + `" WHERE id BETWEEN ? AND ?`
	vals, err := one(
		ctx,
		q,
		"SELECT count(*), max(id) FROM (SELECT id"+table+" ORDER BY id LIMIT "+strconv.Itoa(chunkRows)+")",
		from,
		to,
	)
	if err != nil {
		return 0, false, err
	}
	n, _ := vals[0].(int64)
	if n == 0 {
		return 0, false, nil
	}
	last, _ := vals[1].(int64)
	parts := []string{}
	for _, c := range append([]string{"id"}, l.cols...) {
		parts = append(parts, "group_concat(ifnull("+c+", ''), '"+sep+"')")
	}
	if vals, err = one(ctx, q, "SELECT "+strings.Join(parts, ", ")+table, from, last); err != nil {
		return 0, false, err
	}
	texts := make([]string, len(vals))
	together := true
	for i, v := range vals {
		text, ok := v.(string)
		texts[i] = text
		together = together && ok && int64(strings.Count(text, sep)) == n-1
	}
	if together {
		err = l.take(texts, int(n))
	} else {
		err = l.slowly(ctx, q, from, last)
	}
	return last + 1, last < to, err
}

func one(ctx context.Context, q driver.QueryerContext, query string, from, to int64) (vals []driver.Value, err error) {
	rows, err := q.QueryContext(ctx, query, []driver.NamedValue{{Ordinal: 1, Value: from}, {Ordinal: 2, Value: to}})
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	vals = make([]driver.Value, len(rows.Columns()))
	return vals, rows.Next(vals)
}

// take puts a chunk into the builder, a field at a time.
func (l *loader) take(texts []string, n int) error {
	var ok bool
	if l.ints, ok = whole(l.ints[:0], texts[0], n); !ok {
		return fmt.Errorf("%s: an id is not a whole number", l.b.Type.Key)
	}
	for _, id := range l.ints {
		l.b.RowNumber(id)
	}
	first := l.b.Len() - n
	for i, f := range l.fields {
		if err := l.field(f, texts[i+1], first, n); err != nil {
			return err
		}
	}
	return nil
}

// cut takes the first of n values that are adjacent.
func cut(values string, n int) (first, rest string) {
	if end := strings.IndexByte(values, separator); n > 1 && end >= 0 {
		return values[:end], values[end+1:]
	}
	return values, ""
}

func (l *loader) field(f int, values string, first, n int) error {
	field := &l.b.Type.Fields[f]
	if field.Kind.Coded() {
		l.texts = l.texts[:0]
		for i := range n {
			var text string
			text, values = cut(values, n-i)
			l.texts = append(l.texts, text)
		}
		l.b.SetTexts(f, first, l.texts)
		return nil
	}
	var ok bool
	if l.ints, ok = whole(l.ints[:0], values, n); !ok {
		return fmt.Errorf("%s: %s is kept as something that is no whole number", l.b.Type.Label, field.Key)
	}
	l.b.SetInner(f, first, l.ints)
	return nil
}

// whole reads n whole numbers that are adjacent; nothing is column.Null.
func whole(out []int64, values string, n int) ([]int64, bool) {
	at := 0
	for range n {
		start, v, sign := at, int64(0), int64(1)
		if at < len(values) && values[at] == '-' {
			sign, at = -1, at+1
		}
		digits := at
		for ; at < len(values) && values[at] >= '0' && values[at] <= '9'; at++ {
			v = v*10 + int64(values[at]-'0')
		}
		switch {
		case at == start:
			v = column.Null
		case at == digits || at-digits > 19 || v < 0:
			return out, false
		}
		out = append(out, v*sign)
		if at < len(values) {
			if values[at] != separator {
				return out, false
			}
			at++
		}
	}
	return out, at == len(values)
}

// slowly reads records one by one.
func (l *loader) slowly(ctx context.Context, q driver.QueryerContext, from, to int64) error {
	query := "SELECT " + strings.Join(
		append([]string{"id"}, l.cols...),
		", ",
	) + ` FROM "` + tableOf(l.b.Type) + `" WHERE id BETWEEN ? AND ? ORDER BY id`
	rows, err := q.QueryContext(ctx, query, []driver.NamedValue{{Ordinal: 1, Value: from}, {Ordinal: 2, Value: to}})
	if err != nil {
		return err
	}
	return errors.Join(l.readRows(rows), rows.Close())
}

func (l *loader) readRows(rows driver.Rows) error {
	vals := make([]driver.Value, len(rows.Columns()))
	for {
		if err := rows.Next(vals); err != nil {
			if errors.Is(err, io.EOF) {
				return nil
			}
			return err
		}
		texts := make([]string, len(vals))
		for i, v := range vals {
			if v != nil {
				texts[i] = fmt.Sprint(v)
			}
		}
		if err := l.take(texts, 1); err != nil {
			return err
		}
	}
}
