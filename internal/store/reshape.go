package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"gorm.io/gorm"

	"uzzel/core/schema"
)

// SettingShape is the version of the shape of records: fields, choices and stages.
const SettingShape = "shape"

// ShapeVersion is how often the shape of records was changed.
func (s *Store) ShapeVersion(ctx context.Context) (int, error) {
	by, err := s.SettingVersions(ctx, SettingShape)
	return by[""], err
}

// Reshape changes the settings that records are shaped by, and records with them, in one transaction; at is the version
// that they were read at. Settings that contradict themselves are refused.
func (s *Store) Reshape(ctx context.Context, at int, do func(w *Writer, set *schema.Settings) error) error {
	return s.Write(ctx, func(w *Writer) error {
		w.many = true // columns and schema are read anew
		if err := advance(w.tx, SettingShape, at); err != nil {
			return err
		}
		set, err := settingsOf(w.tx)
		if err != nil {
			return err
		}
		was, err := textOf(set)
		if err != nil {
			return err
		}
		w.undo = &reversal{}
		if err := do(w, &set); err != nil {
			return err
		}
		sch, err := schema.New(set)
		if err != nil {
			return err
		}
		if err := errors.Join(w.shed(w.s.Schema(), sch), fit(w.tx, sch)); err != nil {
			return err
		}
		if w.After != nil {
			if err := w.After(sch); err != nil {
				return err
			}
		}
		text, err := textOf(set)
		if err != nil {
			return err
		}
		if err := w.noteShape(ctx, was, text); err != nil {
			return err
		}
		return w.tx.Model(&organisation{}).Where("id = ?", 1).Update("settings", text).Error
	})
}

// noteShape keeps a change of shape, with what it takes to undo it.
func (w *Writer) noteShape(ctx context.Context, was, text string) error {
	var last int64
	const latest = "SELECT coalesce(max(id), 0) FROM setting_changes"
	if err := w.tx.Raw(latest).Scan(&last).Error; err != nil {
		return err
	}
	if err := w.s.noted(By(ctx, w.Person), w.tx, SettingShape, was, text); err != nil {
		return err
	}
	var id int64
	if err := w.tx.Raw(latest).Scan(&id).Error; err != nil || id == last || w.undo == nil {
		return err
	}
	undo, err := json.Marshal(w.undo)
	if err != nil {
		return err
	}
	return w.tx.Exec("INSERT INTO setting_undos (change, undo) VALUES (?, ?)", id, string(undo)).Error
}

func textOf(set schema.Settings) (string, error) {
	text, err := json.Marshal(set)
	return string(text), err
}

// RenameValues gives values of a field new names in all records, deleted ones and the history included.
func (w *Writer) RenameValues(typ, field string, to map[string]string) error {
	t := w.s.Schema().Type(typ)
	f := t.Field(field)
	if f == nil || f.Worked != nil || !f.Kind.Coded() {
		return fmt.Errorf("%s have no field %q of choices", t.Label, field)
	}
	if w.undo != nil {
		if err := w.undo.renaming(w.tx, t, f, to); err != nil {
			return err
		}
	}
	// A value can be called what another was: all of them at once.
	change, args := "CASE %s", []any{}
	for was, now := range to {
		change += " WHEN ? THEN ?"
		args = append(args, was, now)
	}
	change += " ELSE %s END"
	update := func(table, value, set, where string, more ...any) error {
		all := append(append([]any{}, args...), more...)
		return w.tx.Exec(
			fmt.Sprintf(`UPDATE "%s" SET %s %s`, table, fmt.Sprintf(set, fmt.Sprintf(change, value, value)), where),
			all...).Error
	}
	path := `'$."` + field + `"'`
	err := update(tableOf(t), `"`+field+`"`, `"`+field+`" = %s`, `WHERE "`+field+`" IS NOT NULL`)
	if err == nil {
		value := `json_extract(row, ` + path + `)`
		err = update(
			"deleted_records",
			value,
			"row = json_set(row, "+path+", %s)",
			`WHERE record_type = ? AND `+value+` IS NOT NULL`,
			typ,
		)
	}
	for _, side := range []string{`"from"`, `"to"`} {
		if err == nil {
			err = update("changes", side, side+" = %s", `WHERE record_type = ? AND field = ?`, typ, field)
		}
	}
	return err
}

// Fill sets a field of an organisation's own in many records, by number, without a word in their history: what they
// have is kept in another way, not changed. t is the type as it is from now on.
func (w *Writer) Fill(t *schema.Type, field string, values map[int64]string) error {
	f := t.Field(field)
	if w.undo != nil {
		if err := w.undo.column(w.tx, t, f, false); err != nil {
			return err
		}
	}
	for id, text := range values {
		v, err := inner(f, text, w.s.Snapshot().Cal)
		if err != nil {
			return err
		}
		if err := w.tx.Exec(`UPDATE "`+tableOf(t)+`" SET "`+f.Key+`" = ? WHERE id = ?`, v, id).Error; err != nil {
			return err
		}
	}
	return nil
}

// keptJSON are the columns that hold reports, or what names values of fields, as JSON.
var keptJSON = []struct{ table, column string }{
	{"reports", "brief"},
	{"versions", "brief"},
	{"drafts", "brief"},
	{"starting_points", "brief"},
	{"starting_points", "questions"},
	{"measures", "brief"},
	{"boards", "filters"},
	{"board_versions", "layout"},
	{
		"board_drafts",
		"layout",
	},
	{"page_drafts", "layout"},
	{"preferences", "value"},
	{"panels", "options"},
	{"list_choices", "choice"},
}

// RewriteKept has all that people keep as JSON rewritten; what rewrite leaves as it is stays.
func (w *Writer) RewriteKept(rewrite func(text string) (string, error)) error {
	for _, k := range keptJSON {
		var rows []struct {
			Row  int64
			Text string
		}
		err := w.tx.Raw(`SELECT rowid AS row, "` + k.column + `" AS text FROM "` + k.table + `"`).Scan(&rows).Error
		if err != nil {
			return err
		}
		for _, r := range rows {
			now, err := rewrite(r.Text)
			if err != nil {
				return fmt.Errorf("%s: %w", k.table, err)
			}
			if now == r.Text {
				continue
			}
			if w.undo != nil {
				w.undo.Kept = append(w.undo.Kept, kept{k.table, k.column, r.Row, r.Text, now})
			}
			err = w.tx.Exec(`UPDATE "`+k.table+`" SET "`+k.column+`" = ? WHERE rowid = ?`, now, r.Row).Error
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// EachBrief gives the title and the brief of every report that is kept.
func (s *Store) EachBrief(ctx context.Context, do func(title, text string)) error {
	var rows []Report
	err := s.reader(
		ctx,
	).Session(
		&gorm.Session{},
	).Select(
		"title, brief",
	).Where(
		"deleted IS NULL",
	).Order(
		"title",
	).Find(
		&rows,
	).Error
	for _, r := range rows {
		do(r.Title, r.Brief)
	}
	return err
}
