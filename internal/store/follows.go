package store

import "context"

// Followed is a record that a person follows.
type Followed struct {
	RecordType string
	Record     int64
}

// Follows lists the records that a person follows, the last one first.
func (s *Store) Follows(ctx context.Context, person int64) ([]Followed, error) {
	var list []Followed
	return list, s.reader(ctx).Table("follows").Where("person = ?", person).Order("at DESC").Find(&list).Error
}

// SetFollow has a person follow a record, or no longer.
func (s *Store) SetFollow(ctx context.Context, person int64, f Followed, on bool) error {
	if !on {
		return s.writer(ctx).Exec(
			"DELETE FROM follows WHERE person = ? AND record_type = ? AND record = ?", person, f.RecordType, f.Record).Error
	}
	return s.writer(ctx).Exec(
		"INSERT INTO follows (person, record_type, record, at) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING",
		person, f.RecordType, f.Record, s.Now().Unix(),
	).Error
}
