package store

import "context"

// Apart lists the records of a type that look alike and are two: the lower number first.
func (s *Store) Apart(ctx context.Context, typ string) (map[[2]int64]bool, error) {
	var list []struct{ A, B int64 }
	err := s.reader(ctx).Table("apart").Where("record_type = ?", typ).Find(&list).Error
	set := map[[2]int64]bool{}
	for _, p := range list {
		set[[2]int64{p.A, p.B}] = true
	}
	return set, err
}

// SetApart keeps that two records that look alike are two, or no longer.
func (s *Store) SetApart(ctx context.Context, typ string, a, b, person int64, on bool) error {
	a, b = min(a, b), max(a, b)
	if !on {
		return s.writer(ctx).Exec("DELETE FROM apart WHERE record_type = ? AND a = ? AND b = ?", typ, a, b).Error
	}
	return s.writer(ctx).Exec(
		"INSERT INTO apart (record_type, a, b, person, at) VALUES (?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
		typ, a, b, person, s.Now().Unix(),
	).Error
}
