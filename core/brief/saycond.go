package brief

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"uzzel/core/column"
	"uzzel/core/schema"
)

func (s *sayer) filter(p *BoundPart) {
	if p.Filter == nil || empty(p.Filter) {
		return
	}
	if p.Filter.Op != All {
		s.add("filter", leadTo(p.Filter), s.cond(p.Filter, true), p.Filter.At)
		return
	}
	said := false // whether "where" has been said
	for i, k := range p.Filter.Kids {
		lead := " and "
		switch {
		case i == 0:
			lead = leadTo(k)
		case !said && !leadsWith(k):
			lead = " and where "
		}
		said = said || !leadsWith(k)
		s.add("filter", lead, s.cond(k, false), k.At)
	}
}

// leadTo are the words before the first condition: one on linked records begins with its own.
func leadTo(c *Cond) string {
	if leadsWith(c) {
		return ", "
	}
	return ", where "
}

// leadsWith says whether a condition begins with a condition on linked records: "with no calls".
func leadsWith(c *Cond) bool {
	switch {
	case c.Op == OnLink:
		return true
	case (c.Op == All || c.Op == Any) && len(c.Kids) == 1:
		return leadsWith(c.Kids[0])
	case c.Op == Any && len(c.Kids) > 1:
		return leadsWith(c.Kids[0])
	}
	return false
}

func empty(c *Cond) bool { return (c.Op == All || c.Op == Any) && len(c.Kids) == 0 }

// where says the conditions on linked records, in brackets after them; "" where there are none.
func (s *sayer) where(c *Cond) string {
	if c == nil || empty(c) {
		return ""
	}
	return " (" + s.inner(c) + ")"
}

// inner says conditions that are in brackets already.
func (s *sayer) inner(c *Cond) string {
	for (c.Op == All || c.Op == Any) && len(c.Kids) == 1 {
		c = c.Kids[0]
	}
	if (c.Op != All && c.Op != Any) || len(c.Kids) < 2 {
		return s.cond(c, false)
	}
	return strings.Join(s.conds(c.Kids), map[Op]string{All: " and ", Any: " or "}[c.Op])
}

func (s *sayer) conds(list []*Cond) []string {
	var said []string
	for _, k := range list {
		said = append(said, s.cond(k, false))
	}
	return said
}

// cond says a condition; of the whole filter, what is joined by "or" needs no brackets.
func (s *sayer) cond(c *Cond, whole bool) string {
	switch {
	case c.Op == OnField:
		return s.onField(c) + s.marks(c)
	case c.Op == OnLink:
		return s.onLink(c) + s.marks(c)
	case c.Op == Not:
		kid := c.Kids[0]
		for (kid.Op == All || kid.Op == Any) && len(kid.Kids) == 1 {
			kid = kid.Kids[0]
		}
		if kid.Op == OnField && kid.Is == "filled" && s.marks(kid) == "" {
			return s.words(kid.Value) + " is not filled"
		}
		return "not (" + s.inner(kid) + ")"
	case len(c.Kids) == 0:
		return "anything"
	case len(c.Kids) == 1:
		return s.cond(c.Kids[0], whole)
	case whole && c.Op == Any:
		return strings.Join(s.conds(c.Kids), ", or ")
	}
	return "(" + s.inner(c) + ")"
}

// marks says to who composes that a condition is asked of readers, or fixed.
func (s *sayer) marks(c *Cond) string {
	said := ""
	if !s.to.Reads && c.Source.Ask {
		said += " (ask the reader)"
	}
	if !s.to.Reads && c.Source.Fixed {
		said += " (fixed)"
	}
	return said
}

func (s *sayer) onLink(c *Cond) string {
	said := "with "
	switch {
	case c.None:
		said += "no"
	case c.AtLeast > 1:
		said += "at least " + strconv.Itoa(c.AtLeast)
	default:
		said += "some"
	}
	if len(c.Hops) > 0 { // "with none of its customer's activities"
		said = strings.Replace(said, "with no", "with none", 1) + " of its"
	}
	said += " "
	return said + s.link(c.Hops, c.Back) + s.where(c.Where)
}

// link names a link to many: "activities", "customer's activities".
func (s *sayer) link(hops []Hop, back *schema.Back) string {
	said := ""
	for _, h := range hops {
		said += Possessive(h.Field.Label)
	}
	return said + lower(back.Label) + s.seen(back.Type)
}

var opWords = map[string]string{
	"any_of":       "is",
	"none_of":      "is not",
	"contains":     "contains",
	"not_contains": "does not contain",
	"starts_with":  "starts with",
	"under":        "is under",
	"at_most":      "is at most",
	"over":         "is over",
	"at_least":     "is at least",
	"between":      "is from",
	"empty":        "is empty",
	"filled":       "is filled",
}

// dayWords are the same for dates and times.
var dayWords = map[string]string{"under": "is before", "at_most": "is up to", "over": "is after", "at_least": "is from"}

// otherWords compare two fields, otherDays two dates or times, by the day.
var (
	otherWords = map[string]string{
		"any_of":   "is the same as",
		"none_of":  "is not the same as",
		"under":    "is under",
		"at_most":  "is at most",
		"over":     "is over",
		"at_least": "is at least",
	}
	otherDays = map[string]string{
		"any_of":   "on the same day as",
		"none_of":  "not on the same day as",
		"under":    "earlier than",
		"at_most":  "no later than",
		"over":     "later than",
		"at_least": "no earlier than",
	}
)

func (s *sayer) onField(c *Cond) string {
	said, dated := s.words(c.Value), c.Value.Kind.Dated()
	switch {
	case c.Other != nil && dated:
		return said + " " + otherDays[c.Is] + " " + s.words(c.Other)
	case c.Other != nil:
		return said + " " + otherWords[c.Is] + " " + s.words(c.Other)
	case c.Within != nil:
		said += " " + PeriodWords(*c.Within)
		if c.Within.Word != "" || c.Within.Last+c.Within.Next > 0 {
			said += " (" + SpanWords(s.b.Cal.Resolve(*c.Within, s.today)) + ")"
		}
		return said
	}
	word := opWords[c.Is]
	if w, ok := dayWords[c.Is]; ok && dated {
		word = w
	}
	said += " " + word
	switch c.Is {
	case "empty", "filled":
		return said
	case "between":
		return said + " " + s.val(c.Value, c.Source.Values[0]) + " to " + s.val(c.Value, c.Source.Values[1])
	}
	var list []string
	for _, v := range c.Source.Values {
		list = append(list, s.val(c.Value, v))
	}
	return said + " " + join(list, "or")
}

// val says a value of a condition.
func (s *sayer) val(v *Value, text string) string {
	switch v.Kind {
	case schema.Link, schema.ID:
		return s.name(v.To, text)
	case schema.YesNo:
		word := v.Field.Word(text == "true")
		if v.Field == nil || (v.Field.Yes == "" && v.Field.No == "") {
			return word
		}
		return quoted(word)
	case schema.Money, schema.Percent, schema.Number:
		return s.amount(v.Kind, text)
	case schema.Date:
		return dayText(text)
	case schema.Time:
		return text
	}
	return quoted(stored(v, text))
}

// amount says a number as it was written, with marks between thousands and its unit.
func (s *sayer) amount(k schema.Kind, text string) string {
	switch k {
	case schema.Money:
		return Currency(s.b.Schema.Settings.Currency) + thousands(text)
	case schema.Percent:
		return text + " %"
	}
	return thousands(text)
}

// stored is a choice as it is stored, however it was typed.
func stored(v *Value, text string) string {
	if v.Field == nil {
		return text
	}
	if i := slices.IndexFunc(v.Field.Choices, func(c string) bool { return column.Fold(c) == column.Fold(text) }); i >= 0 {
		return v.Field.Choices[i]
	}
	return text
}

var plainText = regexp.MustCompile(`^[\p{L}\p{N}_.&/’'-]+( [\p{L}\p{N}_.&/’'-]+)*$`)

// quoted puts a text in quotes where it could be taken for words of the sentence.
func quoted(s string) string {
	low := " " + strings.ToLower(s) + " "
	for _, word := range []string{" or ", " and ", " by ", " across ", " as ", " in ", " where ", " with ", " you may see "} {
		if strings.Contains(low, word) {
			return strconv.Quote(s)
		}
	}
	if plainText.MatchString(s) {
		return s
	}
	return strconv.Quote(s)
}
