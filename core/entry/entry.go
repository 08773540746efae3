// Package entry checks what is entered into a field of a record, wherever it comes from: a screen, a file, a program. It
// gives the value in its one written form, or says in words what is wrong with it.
package entry

import (
	"errors"
	"fmt"
	"net/mail"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf8"

	"uzzel/core/column"
	"uzzel/core/period"
	"uzzel/core/schema"
)

// MostText is how many characters a text has at most.
const MostText = 20_000

// phone is a number as people write it: digits with spaces, dots, dashes, brackets and slashes between, at least five.
var phone = regexp.MustCompile(`^\+?[0-9(][0-9 ()./-]*(?:(?:ext\.?|x) ?[0-9]+)?$`)

// Check gives a value in the form that it is kept and written in (docs/brief.md, "Records"), "" for an empty one. An error
// says in words for people what the field takes. Whether a link leads somewhere is not known here.
func Check(f *schema.Field, text string, cal *period.Calendar) (string, error) {
	if f.Kind != schema.Text {
		text = strings.TrimSpace(text)
	} else {
		text = strings.TrimRight(strings.ReplaceAll(text, "\r\n", "\n"), " \t\n")
	}
	if strings.TrimSpace(text) == "" {
		if f.Required {
			return "", errors.New("it cannot be empty")
		}
		return "", nil
	}
	switch f.Kind {
	case schema.Text:
		return text, checkText(f, text)
	case schema.Choice:
		return choice(f, text)
	case schema.Link:
		if n, err := strconv.ParseInt(text, 10, 64); err != nil || n <= 0 {
			return "", fmt.Errorf("“%s” is not the number of a record", short(text))
		}
		return text, nil
	case schema.ID:
		return "", errors.New("a record's number is given by the program")
	}
	v, err := column.Parse(f.Kind, text, cal)
	if err != nil {
		return "", fmt.Errorf("“%s” is no %s: %s", short(text), f.Kind.Words(), takes[f.Kind])
	}
	if err := within(f, v, cal); err != nil {
		return "", err
	}
	return column.Format(f.Kind, v, cal), nil
}

// takes says how values of a kind are written.
var takes = map[schema.Kind]string{
	schema.Number:  "write it as 1234.5",
	schema.Money:   "write it as 1234.50, with two decimals at most",
	schema.Percent: "write it as 12.5",
	schema.Date:    "write it as 2026-05-14",
	schema.Time:    "write it as 2026-05-14T09:30",
	schema.YesNo:   "write true or false",
}

func checkText(f *schema.Field, text string) error {
	if n := utf8.RuneCountInString(text); n > MostText {
		return fmt.Errorf("a text has at most %d characters; this one has %d", MostText, n)
	}
	if !utf8.ValidString(text) || strings.ContainsRune(text, 0) {
		return errors.New("it holds characters that are no text")
	}
	switch f.Format {
	case "email":
		if a, err := mail.ParseAddress(text); err != nil || a.Address != text {
			return fmt.Errorf("“%s” is no e-mail address", short(text))
		}
	case "phone":
		digits := strings.Map(func(r rune) rune {
			if r >= '0' && r <= '9' {
				return r
			}
			return -1
		}, text)
		if !phone.MatchString(text) || len(digits) < 5 {
			return fmt.Errorf("“%s” is no telephone number", short(text))
		}
	case "page":
		u, err := url.Parse(text)
		if err != nil || (u.Scheme != "http" && u.Scheme != "https") || u.Host == "" {
			return fmt.Errorf("“%s” is no address of a page: it begins with https://", short(text))
		}
	}
	return nil
}

// choice takes a choice whatever its case, where there are any to choose among.
func choice(f *schema.Field, text string) (string, error) {
	if len(f.Choices) == 0 {
		return text, checkText(f, text)
	}
	folded := column.Fold(text)
	for _, c := range f.Choices {
		if column.Fold(c) == folded {
			return c, nil
		}
	}
	list := f.Choices
	if len(list) > 8 {
		list = append(append([]string{}, list[:8]...), "…")
	}
	return "", fmt.Errorf("“%s” is none of the choices: %s", short(text), strings.Join(list, ", "))
}

func within(f *schema.Field, v int64, cal *period.Calendar) error {
	least, most := f.Least, f.Most
	outside := func(end string, wrong func(v, end int64) bool) bool {
		if end == "" {
			return false
		}
		e, err := column.Parse(f.Kind, end, cal)
		return err == nil && wrong(v, e)
	}
	if outside(least, func(v, e int64) bool { return v < e }) || outside(most, func(v, e int64) bool { return v > e }) {
		switch {
		case most == "":
			return fmt.Errorf("it is at least %s", least)
		case least == "":
			return fmt.Errorf("it is at most %s", most)
		}
		return fmt.Errorf("it is from %s to %s", least, most)
	}
	return nil
}

func short(text string) string {
	if r := []rune(text); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return text
}
