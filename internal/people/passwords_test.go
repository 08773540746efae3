package people

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/internal/fault"
)

func TestCheckPassword(t *testing.T) {
	for password, says := range map[string]string{
		"":                               "at least 12",
		"short words":                    "at least 12",
		"ééééééé":                        "this one has 7",
		"password1234":                   "tried first",
		"qwertyuiop123":                  "tried first",
		"111111111111111":                "tried first",
		"runa.kestle1":                   "tried first", // the person's own name
		strings.Repeat("ab cd ef ", 100): "at most 200",
	} {
		err := CheckPassword(password, "Runa Kestle", "runa.kestle@brinehaven.example")
		require.True(t, fault.Is(err, fault.Invalid), "%q", password)
		require.ErrorContains(t, err, says, "%q", password)
	}
	for _, password := range []string{"gravel lantern otter", "Zeh9!kwm2-Ql", "пять зелёных лодок"} {
		require.NoError(t, CheckPassword(password, "Runa Kestle"), password)
	}
	start := time.Now()
	_ = CheckPassword(strings.Repeat("ñ", MostPassword), strings.Repeat("x ", 1000))
	require.Less(t, time.Since(start), time.Second, "the longest takes no long time")
}
