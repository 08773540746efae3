package picture

import (
	"os"
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"
)

// The grounds of pictures are those of the screen.
func TestGroundsAreTheScreens(t *testing.T) {
	css, err := os.ReadFile("../../web/src/app.css")
	require.NoError(t, err)
	grounds := regexp.MustCompile(`(?s)\{([^}]*--ground:[^}]*)\}`).FindAllStringSubmatch(string(css), -1)
	require.Len(t, grounds, 2)
	for i, on := range []tokens{paper, ink} {
		for name, colour := range map[string]string{
			"ink": on.Ink, "ink2": on.Ink2, "line": on.Line, "paper": on.Paper, "sunk": on.Sunk, "sea": on.Sea, "rust": on.Rust,
		} {
			require.Regexp(t, `--`+name+`: `+colour+`;`, grounds[i][1])
		}
	}
}

// A shape that is not known is an error: nothing of a drawing is left out silently.
func TestUnknownShapes(t *testing.T) {
	l, err := loadLetters()
	require.NoError(t, err)
	s := (&Painter{l: l}).sheet(10, 10)
	require.NoError(t, s.paintSVG(`<svg><g><path d="M0 0L5 5" stroke="#000"/></g></svg>`, 0, 0))
	require.ErrorContains(t, s.paintSVG(`<svg><mesh/></svg>`, 0, 0), "mesh")
	require.Error(t, s.paintSVG(`<svg><path d="M0 zero" stroke="#000"/></svg>`, 0, 0))
	require.Error(t, s.paintSVG(`<svg`, 0, 0))
}
