package library

import (
	"context"
	"encoding/json"

	"uzzel/core/board"
	"uzzel/core/brief"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
)

// Dress has a report's chart ask for a kept style, and say nothing of its own that the style says; an empty key has it
// follow the house style.
func (lib *Library) Dress(ctx context.Context, v *answers.View, id int64, key string) (Report, error) {
	r, err := lib.changeable(ctx, v, id)
	if err != nil {
		return r, err
	}
	if _, ok := v.Looks.ByKey[key]; key != "" && !ok {
		return r, fault.New(fault.Invalid, "/style", "There is no such style.")
	}
	b := *r.whole
	switch {
	case b.Chart != nil:
		b.Chart = board.Dressed(b.Chart, key)
	case len(b.Groups) == 0:
		return r, fault.New(fault.Invalid, "", "“%s” has no groups, and so no chart.", r.Title)
	default:
		b.Chart = &brief.Chart{Kind: "column", Style: key}
	}
	text, err := json.Marshal(&b)
	if err != nil {
		return r, err
	}
	r.row.Brief, r.row.ChangedBy = string(text), v.Who.ID
	return lib.changed(ctx, v, r.row, r.row.Folder)
}
