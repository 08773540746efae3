package store

import (
	"fmt"
	"strings"

	"gorm.io/gorm"
)

// bulkRows is how many rows one statement of a bulk insert writes.
const bulkRows = 100

// Bulk adds many records of a type fast: columns of its table and, row by row, their kept values (see
// migrations/0001_start.sql) until next gives nil. It keeps no history; it is for filling an empty table.
func (w *Writer) Bulk(typ string, columns []string, next func() []any) error {
	t := w.s.Schema().Type(typ)
	if t == nil {
		return fmt.Errorf("records of %q cannot be added", typ)
	}
	for _, c := range columns {
		if f := t.Field(c); f == nil || f.Worked != nil {
			return fmt.Errorf("%s have no column %q", t.Label, c)
		}
	}
	w.many = true
	head := `INSERT INTO "` + tableOf(t) + `" ("` + strings.Join(columns, `", "`) + `") VALUES `
	one := "(" + strings.TrimSuffix(strings.Repeat("?, ", len(columns)), ", ") + ")"
	full := head + strings.TrimSuffix(strings.Repeat(one+", ", bulkRows), ", ")
	tx := w.tx.Session(&gorm.Session{PrepareStmt: true})
	args := make([]any, 0, bulkRows*len(columns))
	for n := 0; ; {
		row := next()
		if row != nil {
			args = append(args, row...)
			n++
		}
		switch {
		case n == bulkRows:
			if err := tx.Exec(full, args...).Error; err != nil {
				return err
			}
			args, n = args[:0], 0
		case row == nil && n > 0:
			return w.tx.Exec(head+strings.TrimSuffix(strings.Repeat(one+", ", n), ", "), args...).Error
		}
		if row == nil {
			return nil
		}
	}
}
