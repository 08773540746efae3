package store

import "uzzel/core/column"

// Exec has the connection that writes do something, for tests of what can go wrong there.
func (s *Store) Exec(sql string) error { return s.write.Exec(sql).Error }

// Spoil has a write say something that the columns cannot follow.
func (w *Writer) Spoil() {
	w.note(column.Edit{Type: "deals", ID: "77777", Values: map[string]string{"name": "x"}})
}

// FallBehind has the columns be older than the file.
func (s *Store) FallBehind() { s.behind.Store(true) }
