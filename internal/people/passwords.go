package people

import (
	"strings"
	"unicode/utf8"

	"github.com/trustelem/zxcvbn"

	"uzzel/internal/fault"
	"uzzel/internal/store"
)

// Lengths of passwords, in characters. The longest is checked, so that nobody can have a server work on a megabyte.
const (
	LeastPassword = 12
	MostPassword  = 200
	// leastScore is how hard a password must be to guess, of 0 to 4: common ones and those put together of them have less
	// (NIST SP 800-63B, 5.1.1.2).
	leastScore = 2
)

// NewPassword is what an account keeps of a password that may be chosen (CheckPassword).
func NewPassword(password string, about ...string) (hash string, err error) {
	if err := CheckPassword(password, about...); err != nil {
		return "", err
	}
	return store.HashPassword(password)
}

// CheckPassword says whether a password may be chosen: not too short, and none that is tried first, such as common ones
// and the person's own name and address.
func CheckPassword(password string, about ...string) error {
	switch n := utf8.RuneCountInString(password); {
	case n < LeastPassword:
		return fault.New(
			fault.Invalid,
			"/password",
			"A password has at least %d characters; this one has %d.",
			LeastPassword,
			n,
		)
	case n > MostPassword:
		return fault.New(fault.Invalid, "/password", "A password has at most %d characters.", MostPassword)
	}
	known := []string{"uzzel"}
	for _, a := range about {
		a = strings.ToLower(a)
		local, _, _ := strings.Cut(a, "@")
		known = append(known, a, local, strings.ReplaceAll(a, " ", ""))
		known = append(known, strings.FieldsFunc(a, func(r rune) bool { return strings.ContainsRune(" @.-_", r) })...)
	}
	// The first hundred are enough to tell, and take no time.
	start := []rune(password)[:min(100, utf8.RuneCountInString(password))]
	if zxcvbn.PasswordStrength(string(start), known).Score < leastScore {
		return fault.New(fault.Invalid, "/password",
			"This password is one of those that are tried first. Take several words that have nothing to do with one another.")
	}
	return nil
}
