package store

import (
	"context"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Delivery is what is sent to people: a report or a dashboard, and on which terms.
type Delivery struct {
	ID       int64
	Owner    int64
	Title    string
	Kind     string // KindReport or KindBoard
	Item     int64
	Terms    string // JSON: when, to whom, with what
	Version  int
	Changed  int64
	Paused   bool
	Why      string // why it is paused, or what went wrong last
	Failures int    // how often in a row it could not be sent
	Next     int64  // when it is due, in seconds since 1970; of one without a schedule when it is looked at again
	Retry    int64  // before when it is not tried again, where it failed
	Last     int64  // when it was sent last, 0 for never
}

// Deliveries lists those of an owner, or all where it is 0.
func (s *Store) Deliveries(ctx context.Context, owner int64) ([]Delivery, error) {
	var list []Delivery
	db := s.reader(ctx)
	if owner != 0 {
		db = db.Where("owner = ?", owner)
	}
	return list, db.Order("title, id").Find(&list).Error
}

// DueDeliveries lists those that are due, the longest due first.
func (s *Store) DueDeliveries(ctx context.Context, now int64) ([]Delivery, error) {
	var list []Delivery
	return list, s.reader(
		ctx,
	).Where(
		"NOT paused AND next <= ? AND retry <= ?",
		now,
		now,
	).Order(
		"next, id",
	).Find(
		&list,
	).Error
}

// Delivery finds one. ErrNotFound where there is none.
func (s *Store) Delivery(ctx context.Context, id int64) (Delivery, error) {
	var d Delivery
	return d, mapped(s.reader(ctx).First(&d, "id = ?", id).Error)
}

// AddDelivery keeps a new one.
func (s *Store) AddDelivery(ctx context.Context, d *Delivery) error {
	d.Version, d.Changed = 1, s.Now().Unix()
	return s.writer(ctx).Create(d).Error
}

// ChangeDelivery keeps a changed one; d.Version is the version that it was read at. ErrStale where it is another by now.
func (s *Store) ChangeDelivery(ctx context.Context, d *Delivery) error {
	at := d.Version
	d.Version, d.Changed = at+1, s.Now().Unix()
	done := s.writer(ctx).Model(&Delivery{}).Where("id = ? AND version = ?", d.ID, at).
		Select("*").Omit("id", "owner", "last").Updates(d)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrStale
	}
	return done.Error
}

// WentOut notes how a delivery went and when it is due next; versions are not touched.
func (s *Store) WentOut(ctx context.Context, id int64, set map[string]any) error {
	return s.writer(ctx).Model(&Delivery{}).Where("id = ?", id).Updates(set).Error
}

// DeleteDelivery takes a delivery away, with what is known of it; mails that went stay in the outbox.
func (s *Store) DeleteDelivery(ctx context.Context, id int64) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		for _, q := range []string{
			"DELETE FROM delivery_left WHERE delivery = ?", "DELETE FROM delivery_known WHERE delivery = ?",
			"DELETE FROM deliveries WHERE id = ?",
			"UPDATE outbox SET state = 'dropped', reason = 'The delivery was taken away.' WHERE delivery = ? AND state = 'waiting'",
		} {
			if err := tx.Exec(q, id).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// HandOverDeliveries makes the deliveries of one person another's.
func (s *Store) HandOverDeliveries(ctx context.Context, from, to int64) error {
	return s.writer(ctx).Model(&Delivery{}).Where("owner = ?", from).Update("owner", to).Error
}

// PauseDeliveries pauses all deliveries of a person, and says why.
func (s *Store) PauseDeliveries(ctx context.Context, owner int64, why string) error {
	return s.writer(ctx).Model(&Delivery{}).Where("owner = ? AND NOT paused", owner).
		Updates(map[string]any{"paused": true, "why": why}).Error
}

// SetLeft has a person get a delivery no longer, or again.
func (s *Store) SetLeft(ctx context.Context, delivery, person int64, left bool) error {
	db := s.writer(ctx).Table("delivery_left")
	if !left {
		return db.Where("delivery = ? AND person = ?", delivery, person).Delete(nil).Error
	}
	return db.Clauses(clause.OnConflict{DoNothing: true}).
		Create(map[string]any{"delivery": delivery, "person": person}).Error
}

// Left lists who left deliveries, by delivery.
func (s *Store) Left(ctx context.Context) (map[int64][]int64, error) {
	var rows []struct{ Delivery, Person int64 }
	if err := s.reader(ctx).Table("delivery_left").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := map[int64][]int64{}
	for _, r := range rows {
		out[r.Delivery] = append(out[r.Delivery], r.Person)
	}
	return out, nil
}

// Known is what a person was told of by a delivery already.
func (s *Store) Known(ctx context.Context, delivery, person int64) (map[string]bool, error) {
	var list []string
	err := s.reader(ctx).Table("delivery_known").Where("delivery = ? AND person = ?", delivery, person).
		Pluck("thing", &list).Error
	out := make(map[string]bool, len(list))
	for _, thing := range list {
		out[thing] = true
	}
	return out, err
}

// SetKnown puts what a person was told of by a delivery in place of what it was.
func (s *Store) SetKnown(ctx context.Context, delivery, person int64, things []string) error {
	return s.tx(ctx, func(tx *gorm.DB) error {
		q := "DELETE FROM delivery_known WHERE delivery = ? AND person = ?"
		if err := tx.Exec(q, delivery, person).Error; err != nil {
			return err
		}
		rows := make([]map[string]any, len(things))
		for i, thing := range things {
			rows[i] = map[string]any{"delivery": delivery, "person": person, "thing": thing}
		}
		if len(rows) == 0 {
			return nil
		}
		return tx.Table("delivery_known").Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(rows, 300).Error
	})
}
