package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// Told is what a person is told in the application.
type Told struct {
	ID     int64
	Person int64
	At     int64
	Kind   string
	Text   string
	Link   string // where it leads here, "" for nowhere
	Key    string // tells it from others to that person
	Read   bool
}

// TableName is where it is kept.
func (Told) TableName() string { return "inbox" }

// keepTold is how long an inbox keeps what was told, in seconds.
const keepTold = 60 * 86400

// mostTold is how much an inbox shows.
const mostTold = 300

// Tell tells a person something once.
func (s *Store) Tell(ctx context.Context, t *Told) error {
	t.At = s.Now().Unix()
	return s.writer(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(t).Error
}

// ToldTo lists what a person was told, the newest first.
func (s *Store) ToldTo(ctx context.Context, person int64) ([]Told, error) {
	var list []Told
	return list, s.reader(ctx).Where("person = ?", person).Order("at DESC, id DESC").Limit(mostTold).Find(&list).Error
}

// Unread counts what a person was told and has not read, but for some kinds.
func (s *Store) Unread(ctx context.Context, person int64, but []string) (n int64, err error) {
	db := s.reader(ctx).Model(&Told{}).Where("person = ? AND NOT read", person)
	if len(but) > 0 {
		db = db.Where("kind NOT IN ?", but)
	}
	return n, db.Count(&n).Error
}

// SetRead marks what a person was told up to one of it as read.
func (s *Store) SetRead(ctx context.Context, person, upTo int64) error {
	return s.writer(ctx).Model(&Told{}).Where("person = ? AND id <= ? AND NOT read", person, upTo).
		Update("read", true).Error
}

// InboxChoice is how a person has their inbox.
type InboxChoice struct {
	Person int64  `gorm:"primaryKey"`
	Seen   int64  // up to when they have read what they follow, in seconds since 1970
	Quiet  string // the kinds that are not counted, between spaces
}

// InboxChoice reads how a person has their inbox.
func (s *Store) InboxChoice(ctx context.Context, person int64) (InboxChoice, error) {
	c := InboxChoice{}
	err := s.reader(ctx).Where("person = ?", person).Limit(1).Find(&c).Error
	c.Person = person
	return c, err
}

// SetInboxChoice keeps how a person has their inbox.
func (s *Store) SetInboxChoice(ctx context.Context, c InboxChoice) error {
	return s.writer(ctx).Save(&c).Error
}
