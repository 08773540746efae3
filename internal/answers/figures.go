package answers

import (
	"context"
	"strings"

	"uzzel/core/figures"
	"uzzel/internal/store"
)

// FiguresSetting is the preference that holds how figures are written: a tag of figures.Tags, and after a space one of
// figures.Days where it is not the first.
const FiguresSetting = "figures"

// Figures is how figures are written, for everyone or for a person.
type Figures struct {
	Tag  string // one of figures.Tags
	Form figures.Form
	// Version counts its changes.
	Version int

	own map[int64]*Figures // by person, for whom they are written otherwise
}

// For is how figures are written for a person.
func (f *Figures) For(person int64) *Figures {
	if own := f.own[person]; own != nil {
		return own
	}
	return f
}

// Own says how a person has chosen, nil where as for everyone.
func (f *Figures) Own(person int64) *Figures { return f.own[person] }

// ReadFigures reads how figures are written.
func ReadFigures(ctx context.Context, s *store.Store) (*Figures, error) {
	text, version, err := s.Preference(ctx, FiguresSetting)
	if err != nil {
		return nil, err
	}
	f, err := figuresOf(text)
	if err != nil {
		return nil, err
	}
	f.Version, f.own = version, map[int64]*Figures{}
	list, err := s.AllPersonFigures(ctx)
	for _, p := range list {
		// A way that there is no more is that of everyone.
		if own, err := figuresOf(p.Way); err == nil {
			own.Version = version
			f.own[p.Person] = own
		}
	}
	return f, err
}

func figuresOf(text string) (*Figures, error) {
	tag, days, _ := strings.Cut(text, " ")
	f := &Figures{Tag: tag}
	if tag == "" {
		f.Tag = figures.Tags[0]
	}
	form, err := figures.Of(tag)
	if err == nil {
		f.Form, err = form.WithDays(days)
	}
	return f, err
}
