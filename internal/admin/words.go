package admin

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"uzzel/core/brief"
	"uzzel/core/column"
	"uzzel/core/schema"
	"uzzel/internal/answers"
	"uzzel/internal/fault"
	"uzzel/internal/naming"
	"uzzel/internal/people"
)

// MaxWords is how many words of its own an organisation has at most.
const MaxWords = 100

// SetWords sets the organisation's own words for some of its records; version is the one that was read.
func (a *Admin) SetWords(ctx context.Context, v *answers.View, list []answers.Word, version int) error {
	if !v.Who.May(people.LayOut) {
		return fault.New(fault.Forbidden, "", "Only administrators set the organisation’s words.")
	}
	if len(list) > MaxWords {
		return fault.New(fault.Invalid, "/words", "There are %d words at most.", MaxWords)
	}
	seen := map[string]bool{}
	for i := range list {
		w, at := &list[i], fmt.Sprintf("/words/%d", i)
		var err error
		if w.Name, err = naming.Title(w.Name, at+"/name"); err != nil {
			return err
		}
		name := column.Fold(w.Name)
		switch {
		case strings.ContainsAny(w.Name, `"“”(),:;0123456789`):
			return fault.New(fault.Invalid, at+"/name", "A word has letters alone, as “leads” has.")
		case seen[name]:
			return fault.New(fault.Invalid, at+"/name", "“%s” is there already.", w.Name)
		case slices.ContainsFunc(v.Snap.Schema.Types, func(t *schema.Type) bool {
			return slices.Contains([]string{column.Fold(t.Label), column.Fold(t.One), t.Key}, name)
		}):
			return fault.New(fault.Invalid, at+"/name", "“%s” is what a record type is called.", w.Name)
		case w.Brief == nil || w.Brief.Filter == nil:
			return fault.New(fault.Invalid, at+"/brief/filter", "Say which records “%s” are.", w.Name)
		}
		seen[name] = true
		w.Brief = &brief.Brief{Version: brief.Version, Part: brief.Part{Start: w.Brief.Start, Filter: w.Brief.Filter}}
		if brief.HasFixed(w.Brief) {
			return fault.New(fault.Invalid, at+"/brief/filter", "Everyone reads what a word means, so none of it can be fixed.")
		}
		var bad brief.Problems
		if _, err := v.Bind(w.Brief); errors.As(err, &bad) {
			return fault.New(fault.Invalid, at+"/brief/filter", "“%s”: %s.", w.Name, bad[0].Message)
		} else if err != nil {
			return err
		}
	}
	text, err := json.Marshal(list)
	if err != nil {
		return err
	}
	return a.set(ctx, answers.WordsSetting, string(text), version, a.in.Words)
}
