package engine_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"uzzel/core/engine"
)

// What is left out for want of a rate is counted among what the conditions leave: a deal that is out in any case, as its
// reader does not see what a condition asks of it, is not among them.
func TestLeftOutOfWhatIsHidden(t *testing.T) {
	snap := snapshot(t, records{
		"teams": "id,name\n1,West shore", "people": "id,name,team,active\n1,Maite,1,true\n2,Runa,,true",
		"customers":      "id,name,owner\n1,Seen quay,1\n2,Hidden quay,2",
		"deals":          "id,name,customer,value,currency\n1,A,1,10.00,\n2,B,1,20.00,XAU\n3,C,2,30.00,XAU",
		"exchange_rates": "id,currency", "contacts": "id", "activities": "id", "lines": "id", "products": "id", "changes": "id",
	})
	b := bind(t, snap, `{"version":1,"start":"deals","filter":{"all":[{"field":"customer.name","is":"contains","values":["quay"]}]},"columns":[{"field":"name"}],"summaries":[{"key":"v","fn":"sum","of":"value"}]}`)
	opts := engine.Options{Today: today, Reader: "1", Sees: map[string]engine.Sees{"customers": engine.SeesOwn}}
	r, err := engine.Run(context.Background(), snap, b, opts)
	require.NoError(t, err)
	require.Equal(t, []int64{1, 1, 0}, []int64{r.Records, r.Unrated, r.Hidden})
	l, err := engine.List(context.Background(), snap, b, opts)
	require.NoError(t, err)
	require.Equal(t, []int64{1, 1, 0}, []int64{int64(l.Len()), l.Unrated, l.Hidden})
}
