package httpapi_test

import (
	"fmt"
	"net/http"
	"testing"

	"github.com/stretchr/testify/require"
)

// seeing asks as an administrator who sees what another would see.
type seeing string

func (s seeing) RoundTrip(r *http.Request) (*http.Response, error) {
	r = r.Clone(r.Context())
	r.Header.Set("See-As", string(s))
	return http.DefaultTransport.RoundTrip(r)
}

// An administrator sees what another would see, that person's name, records and reports, but nothing that is the person's
// alone, and changes nothing so. Nobody else sees as others do.
func TestSeeAs(t *testing.T) {
	server := serve(t)
	admin, reader := signIn(t, server, 2), signIn(t, server, 3)
	status, _ := admin.call("PUT", "/api/settings/sees/deals", `{"how":"own"}`)
	require.Equal(t, http.StatusNoContent, status)
	ask := `{"brief":` + deals + `}`
	_, own := admin.call("POST", "/api/answer", ask)
	_, theirs := reader.call("POST", "/api/answer", ask)
	require.NotEqual(t, own["records"], theirs["records"])
	var folders []struct {
		ID      int64
		Private bool
	}
	reader.list("/api/folders", &folders)
	private := folders[0].ID
	require.True(t, folders[0].Private)
	status, kept := reader.call("POST", "/api/reports", `{"title":"Mine alone","folder":`+fmt.Sprint(private)+`,"brief":`+deals+`}`)
	require.Equal(t, http.StatusOK, status)

	admin.Transport = seeing("3")
	_, me := admin.call("GET", "/api/me", "")
	_, who := reader.call("GET", "/api/me", "")
	require.Equal(t, who["name"], me["name"])
	_, seen := admin.call("POST", "/api/answer", ask)
	require.Equal(t, theirs["records"], seen["records"])
	for path, ask := range map[string]string{
		"/api/moves": ask, "/api/passages": `{"brief":` + deals + `,"within":"this_year"}`,
		"/api/stood": `{"brief":` + deals + `,"unit":"week","count":2}`,
	} { // what moved, and how it stood, as that person sees it
		status, seen := admin.call("POST", path, ask)
		require.Equal(t, http.StatusOK, status, path, seen)
		_, theirs := reader.call("POST", path, ask)
		require.Equal(t, theirs, seen, path)
	}
	require.False(t, admin.has("/api/reports", "Mine alone"))
	require.True(t, reader.has("/api/reports", "Mine alone"))
	status, _ = admin.call("GET", "/api/reports/"+fmt.Sprint(kept["id"]), "")
	require.Equal(t, http.StatusNotFound, status)
	for _, refused := range [][3]string{
		{"GET", "/api/me/sessions", ""}, {"GET", "/api/drafts", ""}, {"PATCH", "/api/records/deals/1", `{"values":{}}`},
		{"POST", "/api/reports", `{}`}, {"DELETE", "/api/reports/1", ""}, {"PUT", "/api/settings/sees/deals", `{"how":""}`},
	} {
		status, _ := admin.call(refused[0], refused[1], refused[2])
		require.Equal(t, http.StatusForbidden, status, refused)
	}
	admin.Transport = seeing("99")
	status, _ = admin.call("GET", "/api/me", "")
	require.Equal(t, http.StatusNotFound, status)
	reader.Transport = seeing("2")
	status, _ = reader.call("GET", "/api/me", "")
	require.Equal(t, http.StatusForbidden, status)
}
