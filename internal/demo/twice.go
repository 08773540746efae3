package demo

import (
	"math/rand/v2"
	"strings"

	"uzzel/core/period"
	"uzzel/internal/store"
)

// twiceOf says of which record a customer or contact is a second entry, by place; -1 for those that are entered once.
func twiceOf(typ string, i int) int {
	switch {
	case typ == "customers" && i%97 == 50:
		return i - 3
	case typ == "customers" && i > 26 && (i%26 == 13 || i == 410):
		return i - 3
	case typ == "contacts" && i >= customerCount && i%24 == 0:
		return i - 11
	}
	return -1
}

// Twice lists the records of a type that were entered twice, by number: the first entry, then the second.
func Twice(typ string) [][2]int64 {
	var list [][2]int64
	n := map[string]int{"customers": customerCount, "contacts": contactCount}[typ]
	for i := range n {
		if of := twiceOf(typ, i); of >= 0 {
			list = append(list, [2]int64{int64(of + 1), int64(i + 1)})
		}
	}
	return list
}

// again makes a second entry of a record in place of the one that is there, as another person would write it: the name
// otherwise, and some of the rest.
func again(r, of store.Record, typ string, i int) {
	chance := rand.New(rand.NewPCG(uint64(i), uint64(period.Day(2026, 1, 1))))
	keep := map[string][]string{
		"customers": {"segment", "city", "postcode", "country"},
		"contacts":  {"customer", "owner", "phone"},
	}[typ]
	for _, field := range keep {
		delete(r, field)
		if of[field] != "" {
			r[field] = of[field]
		}
	}
	r["created"] = max(r["created"], of["created"]) // not before what it belongs to
	r["name"] = otherwise(of["name"], typ == "contacts", chance)
}

// otherwise is a name as somebody else writes it.
func otherwise(name string, person bool, chance *rand.Rand) string {
	words := strings.Fields(name)
	letters := []rune(words[len(words)-1])
	at := 1 + chance.IntN(len(letters)-2)
	switch chance.IntN(5) {
	case 0:
		letters[at], letters[at+1] = letters[at+1], letters[at]
	case 1:
		letters = append(letters[:at], letters[at+1:]...)
	case 2:
		letters = append(letters[:at], append([]rune{letters[at]}, letters[at:]...)...)
	case 3:
		return strings.ToUpper(name)
	default:
		if person {
			return words[len(words)-1] + ", " + strings.Join(words[:len(words)-1], " ")
		}
		return name + " Ltd"
	}
	words[len(words)-1] = string(letters)
	return strings.Join(words, " ")
}
