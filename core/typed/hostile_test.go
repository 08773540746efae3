package typed_test

import (
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"

	"uzzel/core/typed"
)

// Texts of the greatest length that is read, put together to be tried in as many ways as there are.
func hostile() []string {
	var list []string
	for _, lead := range []string{"", "deals where ", "deals taking x as "} {
		for _, more := range []string{"(", "not (", "and ", "or ", "taking a as ", "1 + ", "x = 1 + 2 and ", "customer’s parent ", "it has no activities where (", "; beside them deals ", "name is a or ",
			"name contains a or name is b or ", "the sum of value of activities ", "by stage then ", "where name is a and ", "of ", "as ", "customer’s "} {
			list = append(list, lead+strings.Repeat(more, 4000/len(more)))
		}
	}
	return list
}

// A text that is put together to be read in many ways costs no more than it may; nothing of it is lost without a word.
func TestNoTextKeepsTheReaderBusy(t *testing.T) {
	s := company(t)
	for _, text := range hostile() {
		began := time.Now()
		b, un := typed.Read(text, s, known())
		assert.Less(t, time.Since(began), 20*time.Second, "%.60s", text) // without a bound it would be years
		assert.True(t, b != nil || len(un) > 0, "%.60s", text)
	}
}

// What is beyond the bounds is said to be unread.
func TestTooDeepIsUnread(t *testing.T) {
	b, un := typed.Read("deals where "+strings.Repeat("not (", 40)+"name is a"+strings.Repeat(")", 40), company(t), known())
	assert.Equal(t, "deals", b.Start)
	assert.NotEmpty(t, un)
}

func FuzzRead(f *testing.F) {
	for _, text := range hostile() {
		f.Add(text[:min(len(text), 200)])
	}
	f.Add("open deals over 20k closing this quarter by stage, sum of value")
	f.Add("won: Deals of mine; beside them lost: Deals, by stage of won, stage of lost as Stage")
	s := company(f)
	f.Fuzz(func(t *testing.T, text string) {
		_, un := typed.Read(text, s, known())
		for _, u := range un {
			assert.LessOrEqual(t, u.From, u.To)
			assert.LessOrEqual(t, u.To, utf8.RuneCountInString(text))
		}
		typed.Complete(text, s, typed.Known{})
	})
}
