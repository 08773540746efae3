package bringin

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"maps"
	"sync"
	"time"

	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/records"
	"uzzel/internal/store"
)

// Files that were sent are kept for an hour, so that they are sent once; the oldest go where there are too many.
const (
	keepFiles = time.Hour
	mostFiles = 16
	mostWait  = 20_000_000 // cells of all files together
)

type file struct {
	person int64
	sheet  *Sheet
	at     time.Time
}

type files struct {
	now  func() time.Time
	mu   sync.Mutex
	byID map[string]file
}

func (f *files) put(person int64, s *Sheet) string {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.byID == nil {
		f.byID = map[string]file{}
	}
	maps.DeleteFunc(f.byID, func(_ string, x file) bool { return f.now().Sub(x.at) > keepFiles })
	cells := s.cells()
	for _, x := range f.byID {
		cells += x.sheet.cells()
	}
	for len(f.byID) > 0 && (len(f.byID) >= mostFiles || cells > mostWait) {
		oldest := ""
		for id, x := range f.byID {
			if oldest == "" || x.at.Before(f.byID[oldest].at) {
				oldest = id
			}
		}
		cells -= f.byID[oldest].sheet.cells()
		delete(f.byID, oldest)
	}
	id := rand.Text()
	f.byID[id] = file{person, s, f.now()}
	return id
}

func (f *files) get(person int64, id string) (*Sheet, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	x, ok := f.byID[id]
	if !ok || x.person != person || f.now().Sub(x.at) > keepFiles {
		return nil, fault.New(fault.NotFound, "", "The file is no longer here. Choose it once more.")
	}
	return x.sheet, nil
}

// Take reads a file and keeps it for an hour; it gives what it is called by from then on.
func (b *BringIn) Take(v *answers.View, name string, data []byte) (string, *Sheet, error) {
	if err := May(v); err != nil {
		return "", nil, err
	}
	s, err := Read(name, data)
	if err != nil {
		return "", nil, err
	}
	return b.files.put(v.Who.ID, s), s, nil
}

// Guess says what the columns of a file most likely are, as records of a type, or of the type that they most likely are of
// where typ is "": what such columns were the last time, or
// what their names and values suggest. again says that it is as the last time.
func (b *BringIn) Guess(ctx context.Context, v *answers.View, id, typ string) (p Plan, again bool, err error) {
	s, err := b.file(v, id)
	if err != nil {
		return Plan{}, false, err
	}
	if typ != "" {
		if _, err := records.Writable(v, typ); err != nil {
			return Plan{}, false, err
		}
	}
	p, person, err := b.past(ctx, s, typ)
	if err != nil {
		return Plan{}, false, err
	}
	if person != 0 && holds(v, s, &p) {
		return p, true, nil
	}
	if typ == "" {
		return GuessType(v, s), false, nil
	}
	return Guess(v, s, typ), false, nil
}

// Try says what would come of a file. Nothing is written.
func (b *BringIn) Try(ctx context.Context, v *answers.View, id string, p Plan) (*Outcome, error) {
	s, err := b.file(v, id)
	if err != nil {
		return nil, err
	}
	return b.try(ctx, v, s, p, none)
}

func none(int) error { return nil }

func (b *BringIn) file(v *answers.View, id string) (*Sheet, error) {
	if err := May(v); err != nil {
		return nil, err
	}
	return b.files.get(v.Who.ID, id)
}

// RefusedLines are the lines of a file that are refused, with the names of its columns.
func (b *BringIn) RefusedLines(ctx context.Context, v *answers.View, id string, p Plan) (*Outcome, []string, error) {
	s, err := b.file(v, id)
	if err != nil {
		return nil, nil, err
	}
	out, err := b.try(ctx, v, s, p, none)
	return out, s.Header, err
}

// Do brings in what is not refused of a file, all of it at once or none. How it is brought in is remembered for the next
// file with such columns. told is told as it goes what is done, and how far; its error ends it with nothing written.
func (b *BringIn) Do(
	ctx context.Context,
	v *answers.View,
	s *Sheet,
	p Plan,
	told func(phase string, done, of int) error,
) (store.Import, *Outcome, error) {
	var kept store.Import
	out, err := b.try(ctx, v, s, p, func(done int) error { return told(Checking, done, len(s.Rows)) })
	if err != nil {
		return kept, nil, err
	}
	all := len(out.creates) + len(out.edits)
	if err := told(Writing, 0, all); err != nil {
		return kept, nil, err
	}
	keep := func(ctx context.Context, done records.Done) error {
		text, err := json.Marshal(done)
		if err != nil {
			return err
		}
		header, plan, err := remembered(s, p)
		if err != nil {
			return err
		}
		kept = store.Import{
			Person:     v.Who.ID,
			RecordType: p.Type,
			File:       s.Name,
			At:         b.store.Now().Unix(),
			Made:       out.New,
			Changed:    out.Changed,
			Refused:    len(out.Refused),
			Done:       string(text),
			Header:     header,
			Plan:       plan,
		}
		return b.store.AddImport(ctx, &kept)
	}
	step := func(done int) error { return told(Writing, done, all) }
	_, err = b.records.Batch(ctx, v, p.Type, out.creates, out.edits, step, keep)
	out.creates, out.edits = nil, nil // they are in the records; what came of the file is kept for a while
	return kept, out, err
}

// List lists the latest imports.
func (b *BringIn) List(ctx context.Context, v *answers.View) ([]store.Import, error) {
	if err := May(v); err != nil {
		return nil, err
	}
	return b.store.Imports(ctx, 50)
}

// Undo takes an import back, but for what was changed since; left is how many records that are.
func (b *BringIn) Undo(ctx context.Context, v *answers.View, id int64) (left int, err error) {
	if err := May(v); err != nil {
		return 0, err
	}
	i, err := b.store.Import(ctx, id)
	if err != nil {
		return 0, fault.FromStore(err, "import")
	}
	if i.Person != v.Who.ID && !v.Who.Administers() {
		return 0, fault.New(fault.Forbidden, "", "Who brought it in, or an administrator, takes it back.")
	}
	var done records.Done
	if err := json.Unmarshal([]byte(i.Done), &done); err != nil {
		return 0, err
	}
	left, err = b.records.Undo(ctx, v, i.RecordType, done, func(ctx context.Context) error {
		return b.store.Undone(ctx, id, b.store.Now().Unix())
	})
	if errors.Is(err, store.ErrStale) {
		return 0, fault.New(fault.Stale, "", "This was taken back already.")
	}
	return left, err
}
