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

// Figures is how figures are written for everyone.
type Figures struct {
	Tag  string // one of figures.Tags
	Form figures.Form
	// Version counts its changes.
	Version int
}

// ReadFigures reads how figures are written.
func ReadFigures(ctx context.Context, s *store.Store) (*Figures, error) {
	text, version, err := s.Preference(ctx, FiguresSetting)
	tag, days, _ := strings.Cut(text, " ")
	f := Figures{Tag: tag, Version: version}
	if tag == "" {
		f.Tag = figures.Tags[0]
	}
	if err == nil {
		f.Form, err = figures.Of(tag)
	}
	if err == nil {
		f.Form, err = f.Form.WithDays(days)
	}
	return &f, err
}
