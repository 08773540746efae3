package answers

import (
	"context"

	"uzzel/core/figures"
	"uzzel/internal/store"
)

// FiguresSetting is the preference that holds how figures are written.
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
	tag, version, err := s.Preference(ctx, FiguresSetting)
	f := Figures{Tag: tag, Version: version}
	if tag == "" {
		f.Tag = figures.Tags[0]
	}
	if err == nil {
		f.Form, err = figures.Of(tag)
	}
	return &f, err
}
