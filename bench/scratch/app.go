package scratch

import (
	"errors"
	"time"

	"uzzel/internal/app"
	"uzzel/internal/store"
)

// App is the application over a data file, on the day that it is.
func App(path string) (*app.App, *store.Store, error) {
	s, err := store.Open(path)
	if err != nil {
		return nil, nil, err
	}
	today := int32(time.Now().Unix() / 86400)
	a, err := app.New(s, func() int32 { return today }, nil)
	if err != nil {
		return nil, nil, errors.Join(err, s.Close())
	}
	return a, s, nil
}
