package store

import (
	"context"

	"gorm.io/gorm"
)

// Token lets a program act for a person, within scopes.
type Token struct {
	ID      int64
	Person  int64
	Hash    []byte // SHA-256 of the token, which is not kept
	Name    string
	Scopes  string // separated by spaces
	Made    int64  // seconds since 1970-01-01
	Expires int64
	Used    *int64 // when it was used last, to within a minute
}

// AddToken keeps a token.
func (s *Store) AddToken(ctx context.Context, t *Token) error {
	return s.tx(ctx, func(tx *gorm.DB) error { return mapped(tx.Create(t).Error) })
}

// Tokens lists the tokens of a person, the latest first.
func (s *Store) Tokens(ctx context.Context, person int64) ([]Token, error) {
	var list []Token
	return list, s.reader(ctx).Order("made DESC, id DESC").Find(&list, "person = ?", person).Error
}

// TokenOf finds a token that has not expired.
func (s *Store) TokenOf(ctx context.Context, hash []byte, now int64) (Token, error) {
	var t Token
	return t, mapped(s.reader(ctx).First(&t, "hash = ? AND expires > ?", hash, now).Error)
}

// UseToken keeps when a token was used.
func (s *Store) UseToken(ctx context.Context, id, at int64) error {
	return s.writer(ctx).Model(&Token{}).Where("id = ?", id).Update("used", at).Error
}

// DropToken takes a token of a person away; ErrNotFound says that there is none.
func (s *Store) DropToken(ctx context.Context, person, id int64) error {
	done := s.writer(ctx).Delete(&Token{}, "id = ? AND person = ?", id, person)
	if done.Error == nil && done.RowsAffected == 0 {
		return ErrNotFound
	}
	return done.Error
}
