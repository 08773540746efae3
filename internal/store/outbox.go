package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// States of a mail in the outbox.
const (
	MailWaiting = "waiting" // to be sent when it is due
	MailSending = "sending" // being handed to the server for mail
	MailSent    = "sent"
	MailTold    = "told"    // in the application alone
	MailFailed  = "failed"  // given up
	MailDropped = "dropped" // not sent: its reason says why
	MailUnsure  = "unsure"  // the program ended while it was handed over: it may have arrived
)

// KeepMails is how long the outbox keeps what went, in seconds.
const KeepMails = 90 * 86400

// OutMail is a mail to one recipient on one occasion. There is never a second one.
type OutMail struct {
	ID        int64
	Delivery  int64
	Recipient int64
	Occasion  string
	Address   string
	Subject   string
	Letter    []byte // as it is sent; nil where nothing was to be sent
	State     string
	Reason    string
	Tries     int
	Due       int64
	Made      int64
	Sent      int64
}

// TableName is where mails are kept.
func (OutMail) TableName() string { return "outbox" }

// PutMail puts a mail into the outbox; it says whether there was none for that recipient and occasion.
func (s *Store) PutMail(ctx context.Context, m *OutMail) (bool, error) {
	m.Made = s.Now().Unix()
	done := s.writer(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(m)
	return done.RowsAffected > 0, done.Error
}

// HasMail says whether there is a mail to a recipient on an occasion.
func (s *Store) HasMail(ctx context.Context, delivery, recipient int64, occasion string) (bool, error) {
	var n int64
	err := s.reader(ctx).Model(&OutMail{}).
		Where("delivery = ? AND recipient = ? AND occasion = ?", delivery, recipient, occasion).Count(&n).Error
	return n > 0, err
}

// DueMails lists mails that are to be sent now, so many at most.
func (s *Store) DueMails(ctx context.Context, now int64, most int) ([]OutMail, error) {
	var list []OutMail
	return list, s.reader(
		ctx,
	).Where(
		"state = ? AND due <= ?",
		MailWaiting,
		now,
	).Order(
		"due, id",
	).Limit(
		most,
	).Find(
		&list,
	).Error
}

// TakeMail marks a mail as being sent; it says whether it was still waiting.
func (s *Store) TakeMail(ctx context.Context, id int64) (bool, error) {
	done := s.writer(ctx).Model(&OutMail{}).Where("id = ? AND state = ?", id, MailWaiting).
		Updates(map[string]any{"state": MailSending})
	return done.RowsAffected > 0, done.Error
}

// MarkMail notes what became of a mail.
func (s *Store) MarkMail(ctx context.Context, id int64, set map[string]any) error {
	return s.writer(ctx).Model(&OutMail{}).Where("id = ?", id).Updates(set).Error
}

// UnsureMails marks those that were being sent when the program ended: they are not sent again by themselves.
func (s *Store) UnsureMails(ctx context.Context) (int64, error) {
	done := s.writer(ctx).Model(&OutMail{}).Where("state = ?", MailSending).Updates(map[string]any{
		"state": MailUnsure, "reason": "Uzzel was stopped while it was handed over: it may have arrived.",
	})
	return done.RowsAffected, done.Error
}

// OutMails lists mails without their letters, the newest first: of a delivery, of all deliveries of an owner; each where it
// is not 0.
func (s *Store) OutMails(ctx context.Context, delivery, owner int64, most int) ([]OutMail, error) {
	var list []OutMail
	db := s.reader(ctx).Omit("letter")
	if delivery != 0 {
		db = db.Where("delivery = ?", delivery)
	}
	if owner != 0 {
		db = db.Where("delivery IN (SELECT id FROM deliveries WHERE owner = ?)", owner)
	}
	return list, db.Order("id DESC").Limit(most).Find(&list).Error
}

// OutMail finds a mail with its letter. ErrNotFound where there is none.
func (s *Store) OutMail(ctx context.Context, id int64) (OutMail, error) {
	var m OutMail
	return m, mapped(s.reader(ctx).First(&m, "id = ?", id).Error)
}
