package entry_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"uzzel/core/entry"
	"uzzel/core/period"
	"uzzel/core/schema"
)

var cal = period.New(time.UTC, time.Monday, 1)

func TestCheck(t *testing.T) {
	stage := &schema.Field{Kind: schema.Choice, Choices: []string{"Enquiry", "Agreed"}}
	share := &schema.Field{Kind: schema.Percent, Least: "0", Most: "100"}
	for _, c := range []struct {
		f          *schema.Field
		text, want string
	}{
		{&schema.Field{Kind: schema.Text}, "  Pontoon \r\nring  ", "  Pontoon \nring"},
		{&schema.Field{Kind: schema.Text}, "   ", ""},
		{&schema.Field{Kind: schema.Text, Format: "email"}, "ayla@quay.example", "ayla@quay.example"},
		{&schema.Field{Kind: schema.Text, Format: "phone"}, "+47 (0)22 33-44.55", "+47 (0)22 33-44.55"},
		{&schema.Field{Kind: schema.Text, Format: "page"}, "https://quay.example/a?b", "https://quay.example/a?b"},
		{stage, " agreed ", "Agreed"},
		{&schema.Field{Kind: schema.Choice}, "Anything", "Anything"},
		{&schema.Field{Kind: schema.Money}, "1234.5", "1234.50"},
		{&schema.Field{Kind: schema.Money}, "-3", "-3.00"},
		{share, "100", "100"},
		{&schema.Field{Kind: schema.Date}, "2026-05-14", "2026-05-14"},
		{&schema.Field{Kind: schema.YesNo}, "true", "true"},
		{&schema.Field{Kind: schema.Link}, "12", "12"},
	} {
		got, err := entry.Check(c.f, c.text, cal)
		require.NoError(t, err, c.text)
		require.Equal(t, c.want, got)
		again, err := entry.Check(c.f, got, cal)
		require.NoError(t, err)
		require.Equal(t, got, again, "the written form is taken as it is")
	}
	for _, c := range []struct {
		f          *schema.Field
		text, says string
	}{
		{&schema.Field{Kind: schema.Text, Required: true}, " \n", "cannot be empty"},
		{&schema.Field{Kind: schema.Text}, strings.Repeat("é", entry.MostText+1), "20001"},
		{&schema.Field{Kind: schema.Text}, "a\x00b", "no text"},
		{&schema.Field{Kind: schema.Text}, "a\xffb", "no text"},
		{&schema.Field{Kind: schema.Text, Format: "email"}, "Ayla <ayla@quay.example>", "no e-mail"},
		{&schema.Field{Kind: schema.Text, Format: "phone"}, "call me", "no telephone"},
		{&schema.Field{Kind: schema.Text, Format: "phone"}, "123", "no telephone"},
		{&schema.Field{Kind: schema.Text, Format: "page"}, "javascript:alert(1)", "no address of a page"},
		{stage, "Lost", "Enquiry, Agreed"},
		{&schema.Field{Kind: schema.Money}, "12 million", "1234.50"},
		{share, "100.1", "from 0 to 100"},
		{&schema.Field{Kind: schema.Number, Least: "0"}, "-1", "at least 0"},
		{&schema.Field{Kind: schema.Date}, "2026-02-30", "2026-05-14"},
		{&schema.Field{Kind: schema.Link}, "Quay", "not the number"},
		{&schema.Field{Kind: schema.ID}, "4", "by the program"},
	} {
		_, err := entry.Check(c.f, c.text, cal)
		require.ErrorContains(t, err, c.says, "%q", c.text)
	}
}

func ExampleCheck() {
	f := &schema.Field{Kind: schema.Choice, Choices: []string{"Marina", "Harbour"}}
	fmt.Println(entry.Check(f, "harbour", cal))
	_, err := entry.Check(f, "Lake", cal)
	fmt.Println(err)
	// Output:
	// Harbour <nil>
	// “Lake” is none of the choices: Marina, Harbour
}
