package store

import (
	"context"
	"strings"

	"gorm.io/gorm"
)

// Kinds of things that are kept once for all and have versions: how often each was changed. The zero version is one
// that was never changed.
const (
	SettingFolder     = "folder:"
	SettingPoint      = "point:"
	SettingPreference = "preference:"
	SettingTargets    = "targets:"
	SettingSees       = "sees:"
)

// Unchecked is the version of who changes something whatever it is by now: the program itself.
const Unchecked = -1

// SettingVersions gives the versions of all settings of a kind, by key.
func (s *Store) SettingVersions(ctx context.Context, kind string) (map[string]int, error) {
	var rows []struct {
		Name    string
		Version int
	}
	err := s.reader(
		ctx,
	).Raw(
		"SELECT name, version FROM setting_versions WHERE substr(name, 1, ?) = ?",
		len(kind),
		kind,
	).Scan(
		&rows,
	).Error
	by := map[string]int{}
	for _, r := range rows {
		by[strings.TrimPrefix(r.Name, kind)] = r.Version
	}
	return by, err
}

// advance counts a change of a setting that was read at a version; ErrStale says that someone else changed it since.
func advance(tx *gorm.DB, name string, at int) error {
	now := []int{}
	if err := tx.Raw("SELECT version FROM setting_versions WHERE name = ?", name).Scan(&now).Error; err != nil {
		return err
	}
	version := 0
	if len(now) > 0 {
		version = now[0]
	}
	if at != Unchecked && at != version {
		return ErrStale
	}
	return tx.Exec(
		"INSERT INTO setting_versions (name, version) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET version = excluded.version",
		name,
		version+1,
	).Error
}

// dropSetting takes the row of a model away that where and key find, with its version. ErrNotFound says that there is
// none.
func dropSetting(tx *gorm.DB, model any, where string, key any, name string) error {
	done := tx.Delete(model, where, key)
	switch {
	case done.Error != nil:
		return done.Error
	case done.RowsAffected == 0:
		return ErrNotFound
	}
	return tx.Exec("DELETE FROM setting_versions WHERE name = ?", name).Error
}

// Preference is what the organisation set for everyone under a name, "" for nothing yet, and its version.
func (s *Store) Preference(ctx context.Context, name string) (value string, version int, err error) {
	var rows []struct {
		Value   string
		Version int
	}
	err = s.reader(
		ctx,
	).Raw(
		`SELECT p.value, ifnull(v.version, 0) AS version FROM preferences p LEFT JOIN setting_versions v ON v.name = ? WHERE p.name = ?`,
		SettingPreference+name,
		name,
	).Scan(
		&rows,
	).Error
	if err != nil || len(rows) == 0 {
		return "", 0, err
	}
	return rows[0].Value, rows[0].Version, nil
}

// SetPreference sets what holds for everyone; at is the version that it was read at.
func (s *Store) SetPreference(ctx context.Context, name, value string, at int) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := advance(tx, SettingPreference+name, at); err != nil {
			return err
		}
		var was string
		if err := tx.Raw("SELECT value FROM preferences WHERE name = ?", name).Scan(&was).Error; err != nil {
			return err
		}
		if err := s.noted(ctx, tx, SettingPreference+name, was, value); err != nil {
			return err
		}
		return tx.Exec(
			"INSERT INTO preferences (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value",
			name,
			value,
		).Error
	})
}

// Sees says which records of the types named a person may see: team or own.
func (s *Store) Sees(ctx context.Context) (map[string]string, error) {
	var list []struct{ RecordType, How string }
	err := s.reader(ctx).Table("sees").Find(&list).Error
	out := map[string]string{}
	for _, l := range list {
		out[l.RecordType] = l.How
	}
	return out, err
}

// SetSees sets which records of a type a person may see; "" is everyone's. at is the version that it was read at.
func (s *Store) SetSees(ctx context.Context, typ, how string, at int) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		if err := advance(tx, SettingSees+typ, at); err != nil {
			return err
		}
		var was string
		if err := tx.Raw("SELECT how FROM sees WHERE record_type = ?", typ).Scan(&was).Error; err != nil {
			return err
		}
		if err := s.noted(ctx, tx, SettingSees+typ, was, how); err != nil {
			return err
		}
		if how == "" {
			return tx.Exec("DELETE FROM sees WHERE record_type = ?", typ).Error
		}
		return tx.Exec(
			"INSERT INTO sees (record_type, how) VALUES (?, ?) ON CONFLICT (record_type) DO UPDATE SET how = excluded.how",
			typ,
			how,
		).Error
	})
}
