package store

import (
	"context"
	"encoding/json"
	"slices"

	"gorm.io/gorm"
)

// MeasureState is what a change of targets set: the measure, nil where there is none, and those of its targets that it
// set, without an amount for one that there is none.
type MeasureState struct {
	Measure *Measure `json:"measure,omitempty"`
	Targets []Target `json:"targets,omitempty"`
}

// stateOf reads a measure and its targets that pick picks, as they are.
func (s *Store) stateOf(tx *gorm.DB, key string, pick []Target) (st MeasureState, err error) {
	var found []Measure
	if err := tx.Find(&found, "key = ?", key).Error; err != nil || len(found) == 0 {
		return st, err
	}
	st.Measure = &found[0]
	var all []Target
	if err := tx.Order("kind, subject, month").Find(&all, "measure = ?", key).Error; err != nil {
		return st, err
	}
	for _, p := range pick {
		at := slices.IndexFunc(all, func(t Target) bool { return t.sameAs(p) })
		t := Target{Measure: key, Kind: p.Kind, Subject: p.Subject, Month: p.Month}
		if at >= 0 {
			t = all[at]
		}
		st.Targets = append(st.Targets, t)
	}
	if pick == nil {
		st.Targets = all
	}
	return st, nil
}

func (t Target) sameAs(o Target) bool {
	return t.Kind == o.Kind && t.Subject == o.Subject && t.Month == o.Month
}

// noteMeasure keeps a change of a measure or its targets. What is the same before and after is left out, as a measure is
// where its targets alone were set.
func (s *Store) noteMeasure(ctx context.Context, tx *gorm.DB, key string, was, is MeasureState) error {
	if was.Measure != nil && is.Measure != nil && *was.Measure == *is.Measure {
		was.Measure, is.Measure = nil, nil
	}
	before, err := json.Marshal(was)
	if err != nil {
		return err
	}
	after, err := json.Marshal(is)
	if err != nil {
		return err
	}
	return s.noted(ctx, tx, SettingTargets+key, string(before), string(after))
}

// TakeBackTargets has a measure and its targets be what they were before a change, which is a change too. ErrStale says
// that some of it was changed again since; dry changes nothing.
func (s *Store) TakeBackTargets(ctx context.Context, person int64, key string, before, after string, dry bool) error {
	var was, is MeasureState
	for text, into := range map[string]*MeasureState{before: &was, after: &is} {
		if err := json.Unmarshal([]byte(text), into); err != nil {
			return err
		}
	}
	return mapped(s.tx(ctx, func(tx *gorm.DB) error {
		touched := is.Targets
		if touched == nil {
			touched = append([]Target{}, was.Targets...)
		}
		now, err := s.stateOf(tx, key, touched)
		if err != nil {
			return err
		}
		var stale bool
		switch {
		case was.Measure == nil && is.Measure == nil: // the change set targets alone
			stale = now.Measure == nil
		case is.Measure == nil: // it took the measure away
			stale = now.Measure != nil
		default:
			stale = now.Measure == nil || *now.Measure != *is.Measure
		}
		if stale {
			return ErrStale
		}
		for i, t := range is.Targets {
			if now.Targets[i].Amount != t.Amount {
				return ErrStale
			}
		}
		if made := was.Measure == nil && is.Measure != nil; made {
			all, err := s.stateOf(tx, key, nil)
			if err != nil || len(all.Targets) > 0 {
				return orStale(err)
			}
		}
		if dry {
			return nil
		}
		switch {
		case was.Measure != nil:
			err = putMeasure(tx, *was.Measure)
		case is.Measure != nil:
			err = tx.Delete(&Measure{}, "key = ?", key).Error
		}
		if err != nil {
			return err
		}
		if err := putTargets(tx, was.Targets, s.Now().Unix(), person); err != nil {
			return err
		}
		if err := advance(tx, SettingTargets+key, Unchecked); err != nil {
			return err
		}
		return s.noteMeasure(ctx, tx, key, is, was)
	}))
}

func orStale(err error) error {
	if err != nil {
		return err
	}
	return ErrStale
}

// TakeBackPoint has a starting point be what it was before a change, which is a change too. ErrStale says that it was
// changed again since; dry changes nothing.
func (s *Store) TakeBackPoint(ctx context.Context, id int64, before, after string, dry bool) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		now, err := pointText(tx, id)
		switch {
		case err != nil:
			return err
		case now != after:
			return ErrStale
		case dry:
			return nil
		}
		if before == "" {
			err = tx.Delete(&StartingPoint{}, "id = ?", id).Error
		} else {
			var p StartingPoint
			if err = json.Unmarshal([]byte(before), &p); err == nil {
				err = tx.Save(&p).Error
			}
		}
		if err != nil {
			return err
		}
		if err := advance(tx, SettingPoint+number(id), Unchecked); err != nil {
			return err
		}
		return s.noted(ctx, tx, SettingPoint+number(id), after, before)
	})
}

// pointText is a starting point as changes of it keep it, "" for none.
func pointText(tx *gorm.DB, id int64) (string, error) {
	var found []StartingPoint
	if err := tx.Find(&found, "id = ?", id).Error; err != nil || len(found) == 0 {
		return "", err
	}
	text, err := json.Marshal(found[0])
	return string(text), err
}
