package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"

	"uzzel/core/schema"
)

// reversal is what a change of the shape of records did besides the settings, as far as it takes to undo it.
type reversal struct {
	Renamed []renamed `json:"renamed,omitempty"`
	Kept    []kept    `json:"kept,omitempty"`
	Dropped []dropped `json:"dropped,omitempty"`
}

// renamed are values of a field that were given other names. Merged are those whose name others had or got as well, with
// what had them: only that goes back.
type renamed struct {
	Type   string            `json:"type"`
	Field  string            `json:"field"`
	To     map[string]string `json:"to"`
	Merged []merged          `json:"merged,omitempty"`
}

type merged struct {
	Was     string  `json:"was"`
	Now     string  `json:"now"`
	Records []int64 `json:"records,omitempty"`
	Deleted []int64 `json:"deleted,omitempty"` // records
	From    []int64 `json:"from,omitempty"`    // changes
	To      []int64 `json:"to,omitempty"`      // changes
}

// kept is a text of JSON that people keep, in which values were named otherwise.
type kept struct {
	Table  string `json:"table"`
	Column string `json:"column"`
	Row    int64  `json:"row"`
	Before string `json:"before"`
	After  string `json:"after"`
}

// dropped is a column of a field, or the table of a type where the field is "", with its history.
type dropped struct {
	Type    string           `json:"type"`
	Field   string           `json:"field,omitempty"`
	Rows    []map[string]any `json:"rows,omitempty"`
	Changes []map[string]any `json:"changes,omitempty"`
	Deleted []map[string]any `json:"deleted,omitempty"`
}

// rowsOf reads rows as they are kept.
func rowsOf(tx *gorm.DB, query string, args ...any) (list []map[string]any, err error) {
	return list, tx.Raw(query, args...).Scan(&list).Error
}

// column notes what a column holds, once for each field: what it held first is what it goes back to.
func (r *reversal) column(tx *gorm.DB, t *schema.Type, f *schema.Field, gone bool) (err error) {
	if slices.ContainsFunc(r.Dropped, func(d dropped) bool { return d.Type == t.Key && d.Field == f.Key }) {
		return nil
	}
	d := dropped{Type: t.Key, Field: f.Key}
	query := `SELECT id, "` + f.Key + `" AS value FROM "` + tableOf(t) + `" WHERE "` + f.Key + `" IS NOT NULL`
	if d.Rows, err = rowsOf(tx, query); err != nil {
		return err
	}
	if gone {
		d.Changes, err = rowsOf(tx, `SELECT * FROM changes WHERE record_type = ? AND field = ? ORDER BY id`, t.Key, f.Key)
	}
	r.Dropped = append(r.Dropped, d)
	return err
}

// table notes what the table of a type holds.
func (r *reversal) table(tx *gorm.DB, t *schema.Type) (err error) {
	d := dropped{Type: t.Key}
	if d.Rows, err = rowsOf(tx, `SELECT * FROM "`+tableOf(t)+`"`); err != nil {
		return err
	}
	if d.Changes, err = rowsOf(tx, `SELECT * FROM changes WHERE record_type = ? ORDER BY id`, t.Key); err != nil {
		return err
	}
	d.Deleted, err = rowsOf(tx, `SELECT * FROM deleted_records WHERE record_type = ?`, t.Key)
	r.Dropped = append(r.Dropped, d)
	return err
}

// renaming notes which values are to be given other names.
func (r *reversal) renaming(tx *gorm.DB, t *schema.Type, f *schema.Field, to map[string]string) error {
	x := renamed{Type: t.Key, Field: f.Key, To: map[string]string{}}
	sources := map[string]int{}
	for _, now := range to {
		sources[now]++
	}
	deleted := `json_extract(row, '$."` + f.Key + `"')`
	for was, now := range to {
		alone := sources[now] == 1
		if _, renamed := to[now]; alone && !renamed {
			var has int64
			err := tx.Raw(`SELECT EXISTS (SELECT 1 FROM "`+tableOf(t)+`" WHERE "`+f.Key+`" = ?)
				OR EXISTS (SELECT 1 FROM changes WHERE record_type = ? AND field = ? AND ("from" = ? OR "to" = ?))
				OR EXISTS (SELECT 1 FROM deleted_records WHERE record_type = ? AND `+deleted+` = ?)`,
				now, t.Key, f.Key, now, now, t.Key, now).Scan(&has).Error
			if err != nil {
				return err
			}
			alone = has == 0
		}
		if alone {
			x.To[was] = now
			continue
		}
		m := merged{Was: was, Now: now}
		for into, query := range map[*[]int64]string{
			&m.Records: `SELECT id FROM "` + tableOf(t) + `" WHERE "` + f.Key + `" = @was`,
			&m.Deleted: `SELECT record FROM deleted_records WHERE record_type = @type AND ` + deleted + ` = @was`,
			&m.From:    `SELECT id FROM changes WHERE record_type = @type AND field = @field AND "from" = @was`,
			&m.To:      `SELECT id FROM changes WHERE record_type = @type AND field = @field AND "to" = @was`,
		} {
			args := map[string]any{"was": was, "type": t.Key, "field": f.Key}
			if err := tx.Raw(query, args).Scan(into).Error; err != nil {
				return err
			}
		}
		x.Merged = append(x.Merged, m)
	}
	r.Renamed = append(r.Renamed, x)
	return nil
}

// Held says in words why a change of the shape of records cannot be taken back: records have what it would take away.
type Held struct{ Words string }

func (h *Held) Error() string { return h.Words }

// TakeBackShape has records be shaped as before a change, which is a change too: values have their names again, what was
// taken away comes back as it was. Held says that records have what would go; dry changes nothing. Whether the shape was
// changed since is for the caller to see.
func (s *Store) TakeBackShape(ctx context.Context, c SettingChange, dry bool) error {
	var before schema.Settings
	if err := json.Unmarshal([]byte(c.Before), &before); err != nil {
		return err
	}
	was, err := schema.New(before)
	if err != nil {
		return err
	}
	var rows []struct{ Undo string }
	if err := s.reader(ctx).Raw(`SELECT undo FROM setting_undos WHERE change = ?`, c.ID).Scan(&rows).Error; err != nil {
		return err
	}
	if len(rows) == 0 {
		return &Held{"What it took to undo it is not kept any more. Change it back under Fields."}
	}
	var r reversal
	decoder := json.NewDecoder(strings.NewReader(rows[0].Undo))
	decoder.UseNumber()
	if err := decoder.Decode(&r); err != nil {
		return err
	}
	if err := s.mayGoBack(s.reader(ctx), c, was, r); err != nil || dry {
		return err
	}
	return s.Reshape(ctx, Unchecked, func(w *Writer, set *schema.Settings) error {
		w.Person, _ = ctx.Value(byKey{}).(int64)
		w.undo = nil // what is taken back is done again under Fields
		*set = before
		if err := s.mayGoBack(w.tx, c, was, r); err != nil {
			return err
		}
		for _, x := range r.Renamed {
			if err := w.renameBack(x); err != nil {
				return err
			}
		}
		for _, k := range r.Kept {
			query := `UPDATE "` + k.Table + `" SET "` + k.Column + `" = ? WHERE rowid = ? AND "` + k.Column + `" = ?`
			if err := w.tx.Exec(query, k.Before, k.Row, k.After).Error; err != nil {
				return err
			}
		}
		w.After = func(now *schema.Schema) error {
			for _, d := range r.Dropped {
				if err := w.putBack(now, d); err != nil {
					return err
				}
			}
			return nil
		}
		return nil
	})
}

// mayGoBack says whether records can be shaped as they were before a change.
func (s *Store) mayGoBack(tx *gorm.DB, c SettingChange, was *schema.Schema, r reversal) error {
	for _, t := range s.Schema().Types {
		count := func(where string, args ...any) (n int64, err error) {
			return n, tx.Raw(`SELECT count(*) FROM "`+tableOf(t)+`" WHERE `+where, args...).Scan(&n).Error
		}
		before := was.Type(t.Key)
		if before == nil {
			if n, err := count("1"); err != nil || n > 0 {
				return held(err, "It would take %s along.", countOf(n, strings.ToLower(t.Label), t.One))
			}
			continue
		}
		for i := range t.Fields {
			f := &t.Fields[i]
			if f.Worked != nil || f.Kind == schema.ID {
				continue
			}
			has := `"` + f.Key + `" IS NOT NULL`
			old := before.Field(f.Key)
			switch {
			case old == nil:
				if n, err := count(has); err != nil || n > 0 {
					return held(err, "%s a value of %s.", countOf(n, strings.ToLower(t.Label)+" have", t.One+" has"), f.Label)
				}
			case old.Kind != f.Kind:
				var n int64
				query := `SELECT count(*) FROM changes WHERE record_type = ? AND field = ? AND at > ?`
				if err := tx.Raw(query, t.Key, f.Key, c.At).Scan(&n).Error; err != nil || n > 0 {
					return held(err, "%s was changed on records since.", f.Label)
				}
			case f.Kind == schema.Choice:
				for _, value := range f.Choices {
					if slices.Contains(old.Choices, value) || r.goes(t.Key, f.Key, value) {
						continue
					}
					if n, err := count(`"`+f.Key+`" = ?`, value); err != nil || n > 0 {
						return held(err, "%s “%s”.", countOf(n, strings.ToLower(t.Label)+" have", t.One+" has"), value)
					}
				}
			}
		}
	}
	return nil
}

func countOf(n int64, many, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func held(err error, format string, args ...any) error {
	if err != nil {
		return err
	}
	return &Held{fmt.Sprintf(format, args...)}
}

// goes says whether all that has a value has it by a change, and goes back with it.
func (r reversal) goes(typ, field, value string) bool {
	for _, x := range r.Renamed {
		if x.Type != typ || x.Field != field {
			continue
		}
		for _, now := range x.To {
			if now == value {
				return true
			}
		}
	}
	return false
}

// renameBack gives values the names that they had.
func (w *Writer) renameBack(x renamed) error {
	t := w.s.Schema().Type(x.Type)
	back := map[string]string{}
	for was, now := range x.To {
		back[now] = was
	}
	if len(back) > 0 {
		if err := w.RenameValues(x.Type, x.Field, back); err != nil {
			return err
		}
	}
	value := `json_extract(row, '$."` + x.Field + `"')`
	for _, m := range x.Merged {
		for _, u := range []struct {
			ids   []int64
			query string
		}{
			{m.Records, `UPDATE "` + tableOf(t) + `" SET "` + x.Field + `" = @was WHERE "` + x.Field + `" = @now AND id IN @ids`},
			{m.Deleted, `UPDATE deleted_records SET row = json_set(row, '$."` + x.Field + `"', @was) WHERE record_type = @type AND ` +
				value + ` = @now AND record IN @ids`},
			{m.From, `UPDATE changes SET "from" = @was WHERE "from" = @now AND id IN @ids`},
			{m.To, `UPDATE changes SET "to" = @was WHERE "to" = @now AND id IN @ids`},
		} {
			for ids := range slices.Chunk(u.ids, 500) {
				args := map[string]any{"was": m.Was, "now": m.Now, "type": t.Key, "ids": ids}
				if err := w.tx.Exec(u.query, args).Error; err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// putBack brings back what was taken away; changes get new numbers, in their order.
func (w *Writer) putBack(now *schema.Schema, d dropped) error {
	t := now.Type(d.Type)
	if t == nil {
		return fmt.Errorf("there is no record type %q", d.Type)
	}
	var last int64
	if err := w.tx.Raw("SELECT coalesce(max(id), 0) FROM changes").Scan(&last).Error; err != nil {
		return err
	}
	for i, c := range d.Changes {
		c["id"] = last + int64(i) + 1
	}
	put := func(table string, rows []map[string]any) error {
		if len(rows) == 0 {
			return nil
		}
		return w.tx.Table(table).CreateInBatches(plainRows(rows), 500).Error
	}
	if d.Field == "" {
		return errors.Join(put(tableOf(t), d.Rows), put("changes", d.Changes), put("deleted_records", d.Deleted))
	}
	query := `UPDATE "` + tableOf(t) + `" SET "` + d.Field + `" = ? WHERE id = ?`
	for _, row := range plainRows(d.Rows) {
		if err := w.tx.Exec(query, row["value"], row["id"]).Error; err != nil {
			return err
		}
	}
	return put("changes", d.Changes)
}

// plainRows has whole numbers that were read from JSON be numbers again.
func plainRows(rows []map[string]any) []map[string]any {
	for _, row := range rows {
		for key, v := range row {
			if n, ok := v.(json.Number); ok {
				if whole, err := n.Int64(); err == nil {
					row[key] = whole
				}
			}
		}
	}
	return rows
}
