package engine_test

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
)

// What a reader may see of a type: all, the team's or the own; nothing for one who is nobody; all of what has no owner.
// What the eye is told agrees with what reports count.
func TestSight(t *testing.T) {
	crew := records{}
	for typ, lines := range harbour {
		crew[typ] = lines
	}
	crew["people"] = "id,name,team,active\n1,Maite,1,true\n2,Runa,,true\n3,Aldo,1,true"
	crew["deals"] += "\n6,Slip,1,3,Enquiry,5,\n7,Float,1,,Enquiry,7,"
	snap := snapshot(t, crew)
	for _, c := range []struct {
		how    engine.Sees
		reader string
		want   string
	}{
		{engine.SeesAll, "2", "1 2 3 4 5 6 7"},
		{engine.SeesTeam, "1", "1 4 5 6"},
		{engine.SeesTeam, "3", "1 4 5 6"},
		{engine.SeesTeam, "2", "2 3"}, // in no team, the own alone
		{engine.SeesOwn, "1", "1 4 5"},
		{engine.SeesOwn, "9", ""},
		{engine.SeesOwn, "", ""},
	} {
		opts := engine.Options{Today: today, Reader: c.reader, Sees: map[string]engine.Sees{"deals": c.how}}
		sees, err := engine.Sight(context.Background(), snap, opts, "deals")
		require.NoError(t, err)
		table, err := snap.Table("deals")
		require.NoError(t, err)
		var seen []string
		for row := range int32(table.N) {
			if sees(row) {
				seen = append(seen, table.IDs.At(row))
			}
		}
		require.Equal(t, c.want, strings.Join(seen, " "), "%v of %s", c.how, c.reader)
		r, err := engine.Run(context.Background(), snap, bind(t, snap, `{"version":1,"start":"deals"}`), opts)
		require.NoError(t, err)
		require.Equal(t, fmt.Sprint(len(seen)), r.Totals().Rows[0][0])
	}
	sees, err := engine.Sight(context.Background(), snap, engine.Options{Sees: map[string]engine.Sees{"teams": engine.SeesOwn}}, "teams")
	require.NoError(t, err)
	require.True(t, sees(0), "a team has no owner")
	_, err = engine.Sight(context.Background(), snap, engine.Options{}, "boats")
	require.Error(t, err)
}
