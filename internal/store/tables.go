package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"gorm.io/gorm"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// tableOf is the table of a record type. Those of an organisation's own have a table whose name cannot be that of
// anything else that the file keeps.
func tableOf(t *schema.Type) string {
	if t.Added {
		return "own_" + t.Key
	}
	return t.Key
}

// columnOf is how a field is kept: text as text, all else as whole numbers (migrations/0001_start.sql).
func columnOf(f *schema.Field) string {
	if f.Kind.Coded() {
		return `"` + f.Key + `" TEXT`
	}
	return `"` + f.Key + `" INTEGER`
}

// samely says whether values of two kinds are kept in the same way.
func samely(a, b schema.Kind) bool { return a == b || (a.Coded() && b.Coded()) }

// shed takes away the tables and columns of what an organisation added and does not have any more, or has as another
// kind, with all that they hold, their history, and what was deleted of such types.
func (w *Writer) shed(was, now *schema.Schema) error {
	tx := w.tx
	for _, t := range was.Types {
		keeps := now.Type(t.Key)
		if t.Added && (keeps == nil || !keeps.Added) {
			if w.undo != nil {
				if err := w.undo.table(tx, t); err != nil {
					return err
				}
			}
			err := errors.Join(
				tx.Delete(&DeletedRecord{}, "record_type = ?", t.Key).Error,
				tx.Exec(`DELETE FROM changes WHERE record_type = ?`, t.Key).Error,
				tx.Exec(`DELETE FROM sees WHERE record_type = ?`, t.Key).Error,
				tx.Exec(`DROP TABLE IF EXISTS "`+tableOf(t)+`"`).Error,
			)
			if err != nil {
				return err
			}
			continue
		}
		for i := range t.Fields {
			f := &t.Fields[i]
			if !f.Added && !t.Added || f.Worked != nil || f.Kind == schema.ID {
				continue
			}
			to := keeps.Field(f.Key)
			if f.Unique && (to == nil || !to.Unique || !samely(f.Kind, to.Kind)) {
				if err := tx.Exec(`DROP INDEX IF EXISTS "` + uniqueIndex(t, f) + `"`).Error; err != nil {
					return err
				}
			}
			if to != nil && samely(f.Kind, to.Kind) {
				continue
			}
			if w.undo != nil {
				if err := w.undo.column(tx, t, f, to == nil); err != nil {
					return err
				}
			}
			if err := tx.Exec(`ALTER TABLE "` + tableOf(t) + `" DROP COLUMN "` + f.Key + `"`).Error; err != nil {
				return err
			}
			if to != nil {
				continue
			}
			err := tx.Exec(`DELETE FROM changes WHERE record_type = ? AND field = ?`, t.Key, f.Key).Error
			if err != nil {
				return err
			}
		}
	}
	return nil
}

func uniqueIndex(t *schema.Type, f *schema.Field) string { return "unique " + t.Key + "." + f.Key }

// fit gives the file a table for each record type of the organisation's own, a column for each field of its own, and an
// index of those whose values are unique. What is there stays.
func fit(tx *gorm.DB, sch *schema.Schema) error {
	for _, t := range sch.Types {
		table := tableOf(t)
		there := map[string]bool{}
		var names []string
		if err := tx.Raw(`SELECT name FROM pragma_table_info(?)`, table).Scan(&names).Error; err != nil {
			return err
		}
		for _, n := range names {
			there[n] = true
		}
		var lacks []string
		for i := range t.Fields {
			f := &t.Fields[i]
			if (f.Added || t.Added) && f.Worked == nil && f.Kind != schema.ID && !there[f.Key] {
				lacks = append(lacks, columnOf(f))
			}
		}
		if t.Added && len(names) == 0 {
			columns := append([]string{"id INTEGER PRIMARY KEY"}, lacks...)
			if err := tx.Exec(`CREATE TABLE "` + table + `" (` + strings.Join(columns, ", ") + ")").Error; err != nil {
				return err
			}
			lacks = nil
		}
		for _, column := range lacks {
			if err := tx.Exec(`ALTER TABLE "` + table + `" ADD COLUMN ` + column).Error; err != nil {
				return err
			}
		}
		for i := range t.Fields {
			f := &t.Fields[i]
			if !f.Unique {
				continue
			}
			index := fmt.Sprintf(`CREATE INDEX IF NOT EXISTS "%s" ON "%s" ("%s")`, uniqueIndex(t, f), table, f.Key)
			if err := tx.Exec(index).Error; err != nil {
				return err
			}
		}
	}
	return nil
}

// currencies gives amounts a currency and the file a table of exchange rates. An organisation that had a field of its own
// for the currency keeps what it holds.
func currencies(tx *gorm.DB) error {
	for _, table := range []string{"deals", "products"} {
		var n int64
		err := tx.Raw(`SELECT count(*) FROM pragma_table_info(?) WHERE name = 'currency'`, table).Scan(&n).Error
		if err != nil {
			return err
		}
		if n == 0 {
			if err := tx.Exec(`ALTER TABLE ` + table + ` ADD COLUMN currency TEXT`).Error; err != nil {
				return err
			}
		}
	}
	return tx.Exec(`CREATE TABLE exchange_rates (id INTEGER PRIMARY KEY, currency TEXT, day INTEGER, units INTEGER,
		worth INTEGER, created INTEGER, changed INTEGER, created_by INTEGER, changed_by INTEGER)`).Error
}

// addedIntoColumns moves what fields of an organisation's own hold from the JSON of one column into a column each.
func addedIntoColumns(tx *gorm.DB) error {
	set, err := settingsOf(tx)
	if err != nil {
		return err
	}
	sch, err := schema.New(set)
	if err != nil {
		return err
	}
	if err := fit(tx, sch); err != nil {
		return err
	}
	cal := period.New(sch.Zone, sch.WeekStart(), sch.Settings.FiscalMonth)
	for _, t := range sch.Types {
		var holds int64
		query := `SELECT count(*) FROM pragma_table_info(?) WHERE name = 'added'`
		if err := tx.Raw(query, t.Key).Scan(&holds).Error; err != nil {
			return err
		}
		if t.Added || holds == 0 {
			continue
		}
		var rows []struct {
			ID    int64
			Added string
		}
		err := tx.Raw(`SELECT id, added FROM "` + t.Key + `" WHERE added IS NOT NULL AND added <> ''`).Scan(&rows).Error
		if err != nil {
			return err
		}
		for _, r := range rows {
			values, err := innerOf(t, r.Added, cal)
			if err != nil {
				return fmt.Errorf("%s %d: %w", t.Key, r.ID, err)
			}
			if len(values) == 0 {
				continue
			}
			if err := tx.Table(t.Key).Where("id = ?", r.ID).Updates(values).Error; err != nil {
				return err
			}
		}
		if err := tx.Exec(`ALTER TABLE "` + t.Key + `" DROP COLUMN added`).Error; err != nil {
			return err
		}
	}
	return deletedIntoColumns(tx, sch, cal)
}

// deletedIntoColumns does the same for records that were deleted and can be brought back.
func deletedIntoColumns(tx *gorm.DB, sch *schema.Schema, cal *period.Calendar) error {
	var gone []DeletedRecord
	if err := tx.Find(&gone).Error; err != nil {
		return err
	}
	for i := range gone {
		g := &gone[i]
		row := map[string]json.RawMessage{}
		if err := json.Unmarshal([]byte(g.Row), &row); err != nil {
			return fmt.Errorf("deleted %s %d: %w", g.RecordType, g.Record, err)
		}
		var added *string
		if err := json.Unmarshal(row["added"], &added); row["added"] != nil && err != nil {
			return err
		}
		delete(row, "added")
		if t := sch.Type(g.RecordType); t != nil && added != nil {
			values, err := innerOf(t, *added, cal)
			if err != nil {
				return err
			}
			for key, v := range values {
				if row[key], err = json.Marshal(v); err != nil {
					return err
				}
			}
		}
		text, err := json.Marshal(row)
		if err != nil {
			return err
		}
		err = tx.Model(g).Where("record_type = ? AND record = ?", g.RecordType, g.Record).Update("row", string(text)).Error
		if err != nil {
			return err
		}
	}
	return nil
}

// innerOf reads values in their CSV form by key, as JSON, as columns keep them. What is no field any more is left out.
func innerOf(t *schema.Type, text string, cal *period.Calendar) (map[string]any, error) {
	var added Record
	if text == "" {
		return nil, nil
	}
	if err := json.Unmarshal([]byte(text), &added); err != nil {
		return nil, err
	}
	values := map[string]any{}
	for key, text := range added {
		if f := t.Field(key); f != nil && f.Added && text != "" {
			v, err := inner(f, text, cal)
			if err != nil {
				return nil, err
			}
			values[key] = v
		}
	}
	return values, nil
}

// inner is a value as its column keeps it; nil for an empty one.
func inner(f *schema.Field, text string, cal *period.Calendar) (any, error) {
	switch {
	case text == "":
		return nil, nil
	case f.Kind.Coded():
		return text, nil
	case f.Kind == schema.ID || f.Kind == schema.Link:
		n, err := strconv.ParseInt(text, 10, 64)
		if err != nil {
			return nil, fmt.Errorf("%s: %q is not the number of a record", f.Key, text)
		}
		return n, nil
	}
	v, err := column.Parse(f.Kind, text, cal)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", f.Key, err)
	}
	return v, nil
}

// Holder is a record that has a value of a field already, but for one record: 0 where there is none.
func (w *Writer) Holder(typ, field, text string, but int64) (id int64, err error) {
	t := w.s.Schema().Type(typ)
	f := t.Field(field)
	v, err := inner(f, text, w.s.Snapshot().Cal)
	if err != nil || v == nil {
		return 0, err
	}
	query := `SELECT id FROM "` + tableOf(t) + `" WHERE "` + f.Key + `" = ? AND id <> ? LIMIT 1`
	return id, w.tx.Raw(query, v, but).Scan(&id).Error
}

// settingsOf reads the settings of the organisation.
func settingsOf(db *gorm.DB) (set schema.Settings, err error) {
	var o organisation
	if err := db.Limit(1).Find(&o).Error; err != nil || o.Settings == "" {
		return set, err
	}
	if err := json.Unmarshal([]byte(o.Settings), &set); err != nil {
		return set, fmt.Errorf("settings of the organisation: %w", err)
	}
	return set, nil
}

// Doubled counts the values of a field that more than one record has.
func (s *Store) Doubled(ctx context.Context, typ, field string) (n int64, err error) {
	t := s.Schema().Type(typ)
	f := t.Field(field)
	query := `SELECT count(*) FROM (SELECT 1 FROM "` + tableOf(
		t,
	) + `" WHERE "` + f.Key + `" IS NOT NULL GROUP BY "` + f.Key +
		`" HAVING count(*) > 1)`
	return n, s.reader(ctx).Raw(query).Scan(&n).Error
}
