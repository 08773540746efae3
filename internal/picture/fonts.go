package picture

import (
	"errors"
	"fmt"
	"image/color"
	"io/fs"
	"strings"

	"github.com/tdewolff/canvas"

	"uzzel/web"
)

// ErrNotBuilt says that what draws pictures is not in the program: it is made by `make build`.
var ErrNotBuilt = errors.New("this program was built without what draws pictures; make build puts it in")

// weight is which letters a text is set in.
type weight int

const (
	plain weight = iota
	bold
	title
	other // letters that the others do not have
)

// fontFiles are the files of the letters, by weight.
var fontFiles = [...]string{"text.ttf", "bold.ttf", "title.ttf", "other.ttf"}

// letters are the fonts that ship with the application. They are used by one at a time.
type letters [len(fontFiles)]*canvas.Font

func loadLetters() (*letters, error) {
	out := &letters{}
	for i, name := range fontFiles {
		data, err := shipped(name)
		if err != nil {
			return nil, err
		}
		if out[i], err = canvas.LoadFont(data, 0, canvas.FontRegular); err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
	}
	return out, nil
}

// shipped is a file of what draws pictures.
func shipped(name string) ([]byte, error) {
	dir, err := web.Render()
	if err != nil {
		return nil, err
	}
	data, err := fs.ReadFile(dir, name)
	if errors.Is(err, fs.ErrNotExist) {
		err = ErrNotBuilt
	}
	return data, err
}

// pt is how many points a pixel is where a pixel is one unit of a canvas, which takes its units for millimetres.
const pt = 72 / 25.4

// face is a font in a size in pixels.
func (l *letters) face(w weight, size float64, ink color.Color) *canvas.FontFace {
	return l[w].Face(size*pt, ink)
}

// run is a stretch of a text that one font has.
type run struct {
	text string
	w    weight
}

// runs cuts a text into stretches by the font that has their letters; letters that none has stay with the first.
func (l *letters) runs(text string, w weight) []run {
	var out []run
	for _, r := range text {
		use := w
		if l[w].GlyphIndex(r) == 0 && l[other].GlyphIndex(r) != 0 {
			use = other
		}
		if n := len(out); n > 0 && out[n-1].w == use {
			out[n-1].text += string(r)
			continue
		}
		out = append(out, run{string(r), use})
	}
	return out
}

// width is how wide a text is, in pixels.
func (l *letters) width(text string, w weight, size float64) float64 {
	sum := 0.0
	for _, r := range l.runs(text, w) {
		sum += l.face(r.w, size, canvas.Black).TextWidth(r.text)
	}
	return sum
}

// fit is as much of a text as a width has room for, with an ellipsis where it is cut.
func (l *letters) fit(text string, w weight, size, room float64) string {
	if l.width(text, w, size) <= room {
		return text
	}
	runes := []rune(text)
	low, high := 0, len(runes)
	for low < high {
		mid := (low + high + 1) / 2
		if l.width(string(runes[:mid])+"…", w, size) <= room {
			low = mid
		} else {
			high = mid - 1
		}
	}
	return strings.TrimRight(string(runes[:low]), " ") + "…"
}

// wrap breaks a text into lines of a width, between words; a word that is wider stands alone.
func (l *letters) wrap(text string, w weight, size, room float64) []string {
	var lines []string
	for _, part := range strings.Split(text, "\n") {
		line := ""
		for _, word := range strings.Fields(part) {
			next := strings.TrimSpace(line + " " + word)
			if line != "" && l.width(next, w, size) > room {
				lines = append(lines, line)
				next = word
			}
			line = next
		}
		lines = append(lines, line)
	}
	return lines
}
