package store

import (
	"context"

	"gorm.io/gorm"

	"uzzel/core/column"
)

// Measure is what targets are set for. Brief is JSON.
type Measure struct {
	Key    string `gorm:"primaryKey"`
	Name   string
	Folded string
	Brief  string
}

// Target is one month's target of a measure. Kind and Subject say whose, Month counts as core/target does, Amount is a
// decimal.
type Target struct {
	Measure   string
	Kind      string
	Subject   int64
	Month     int
	Amount    string
	Changed   int64
	ChangedBy int64
}

// Measures lists the measures by name.
func (s *Store) Measures(ctx context.Context) ([]Measure, error) {
	var list []Measure
	return list, s.reader(ctx).Order("folded").Find(&list).Error
}

// KeepMeasure makes a measure, or changes the name and brief of the one with its key; at is the version of its targets
// that it was read at. ErrTaken where another has its name.
func (s *Store) KeepMeasure(ctx context.Context, m Measure, at int) error {
	m.Folded = column.Fold(m.Name)
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		if err := advance(tx, SettingTargets+m.Key, at); err != nil {
			return err
		}
		was, err := s.stateOf(tx, m.Key, []Target{})
		if err != nil {
			return err
		}
		if err := putMeasure(tx, m); err != nil {
			return err
		}
		return s.noteMeasure(ctx, tx, m.Key, was, MeasureState{Measure: &m})
	}))
}

func putMeasure(tx *gorm.DB, m Measure) error {
	return tx.Exec(
		"INSERT INTO measures (key, name, folded, brief) VALUES (?, ?, ?, ?) ON CONFLICT (key) DO UPDATE SET name = excluded.name, folded = excluded.folded, brief = excluded.brief",
		m.Key,
		m.Name,
		m.Folded,
		m.Brief,
	).Error
}

// DropMeasure takes a measure away with all its targets.
func (s *Store) DropMeasure(ctx context.Context, key string) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		was, err := s.stateOf(tx, key, nil)
		if err != nil {
			return err
		}
		if err := dropSetting(tx, &Measure{}, "key = ?", key, SettingTargets+key); err != nil {
			return err
		}
		return s.noteMeasure(ctx, tx, key, was, MeasureState{})
	})
}

// Targets lists all targets.
func (s *Store) Targets(ctx context.Context) ([]Target, error) {
	var list []Target
	return list, s.reader(ctx).Find(&list).Error
}

// SetTargets sets targets of a measure, all or none of them; one without an amount is taken away. at is the version of
// the measure's targets that was read.
func (s *Store) SetTargets(ctx context.Context, person int64, measure string, list []Target, at int) error {
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		if err := advance(tx, SettingTargets+measure, at); err != nil {
			return err
		}
		was, err := s.stateOf(tx, measure, append([]Target{}, list...))
		if err != nil {
			return err
		}
		if err := putTargets(tx, list, s.Now().Unix(), person); err != nil {
			return err
		}
		return s.noteMeasure(ctx, tx, measure, was, MeasureState{Measure: was.Measure, Targets: list})
	}))
}

func putTargets(tx *gorm.DB, list []Target, now, person int64) error {
	for _, t := range list {
		var err error
		if t.Amount == "" {
			err = tx.Exec(
				"DELETE FROM targets WHERE measure = ? AND kind = ? AND subject = ? AND month = ?",
				t.Measure,
				t.Kind,
				t.Subject,
				t.Month,
			).Error
		} else {
			err = tx.Exec(
				`INSERT INTO targets (measure, kind, subject, month, amount, changed, changed_by) VALUES (?, ?, ?, ?, ?, ?, ?)
			  ON CONFLICT (measure, kind, subject, month) DO UPDATE SET amount = excluded.amount, changed = excluded.changed, changed_by = excluded.changed_by`,
				t.Measure,
				t.Kind,
				t.Subject,
				t.Month,
				t.Amount,
				now,
				person,
			).Error
		}
		if err != nil {
			return err
		}
	}
	return nil
}
