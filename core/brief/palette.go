package brief

import (
	"fmt"
	"regexp"
)

// Limits of how many colours a palette has.
const (
	MinPalette = 3
	MaxPalette = 12
)

var hex = regexp.MustCompile(`^#[0-9A-Fa-f]{6}$`)

// CheckColour says that a colour is not one, if so.
func CheckColour(c string) error {
	if !hex.MatchString(c) {
		return fmt.Errorf("a colour is written like #1F7A72, not %q", c)
	}
	return nil
}

// CheckPalette says what is wrong with the colours of a palette; none is right, too.
func CheckPalette(colours []string) error {
	if n := len(colours); n != 0 && (n < MinPalette || n > MaxPalette) {
		return fmt.Errorf("a palette has %d to %d colours", MinPalette, MaxPalette)
	}
	for _, c := range colours {
		if err := CheckColour(c); err != nil {
			return err
		}
	}
	return nil
}
