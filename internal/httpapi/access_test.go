package httpapi_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Who asks: signed out, a reader and a composer of another team, a reader of the team, the owner of what is asked for
// (a composer of the team), an administrator of another team.
var actors = []struct {
	name   string
	person int
}{{"signed out", 0}, {"reader elsewhere", 8}, {"reader of the team", 3}, {"composer elsewhere", 7}, {"owner", 1}, {"administrator", 2}}

// $T is a report in the team's folder (all may open it, the team's composers may change it), $P one in the owner's
// private folder, $K one that keeps its conditions and downloads to itself, $B a board in the team's folder, $F that
// folder, $N an empty folder that only the owner's team may open, $S a starting point, $D the owner's draft.
// After the path are the statuses for the actors in their order; a dash is "do not ask".
var routes = []struct{ method, path, body, want string }{
	{"GET", "/api/welcome", "", "200 200 200 200 200 200"},
	{"GET", "/api/me", "", "401 200 200 200 200 200"},
	{"GET", "/api/schema", "", "401 200 200 200 200 200"},
	{"POST", "/api/seen", `{"brief":{"version":1,"start":"deals"}}`, "401 200 200 200 200 200"},
	{"GET", "/api/brief.schema.json", "", "200 200 200 200 200 200"},
	{"GET", "/api/subjects", "", "401 200 200 200 200 200"},
	{"GET", "/api/find", "", "401 200 200 200 200 200"},
	{"GET", "/api/find-records?type=deals&search=pontoon", "", "401 200 200 200 200 200"},
	{"GET", "/api/values?start=deals&path=stage", "", "401 200 200 200 200 200"},
	{"GET", "/api/spread?start=deals&path=value", "", "401 200 200 200 200 200"},
	{"POST", "/api/period", `{"within":"this_quarter"}`, "401 200 200 200 200 200"},
	{"GET", "/api/records/deals/1", "", "401 200 200 200 200 200"},
	{"GET", "/api/starters", "", "401 200 200 200 200 200"},
	{"GET", "/api/typed/next?text=op", "", "401 200 200 200 200 200"},
	{"POST", "/api/typed", `{"text":"open deals"}`, "401 200 200 200 200 200"},
	{"POST", "/api/answer", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"POST", "/api/list", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"POST", "/api/behind/report", `{"brief":$Q,"marks":[{"rows":[],"across":[]}]}`, "401 200 200 200 200 200"},
	{"POST", "/api/values/within", `{"brief":$Q,"path":"stage","search":""}`, "401 200 200 200 200 200"},
	{"POST", "/api/grouped", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"POST", "/api/behind", `{"brief":$Q,"marks":[{"rows":["=Enquiry"]}]}`, "401 200 200 200 200 200"},
	{"POST", "/api/explain", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"POST", "/api/dropped", `{"brief":{"version":1,"start":"deals","filter":{"all":[{"field":"status","is":"any_of","values":["open"]}]}},"step":0}`, "401 200 200 200 200 200"},
	// Composers send to others what they may take out themselves; what is sent is looked after by who sends it.
	{"GET", "/api/deliveries", "", "401 200 200 200 200 200"},
	{"GET", "/api/deliveries?all=true", "", "401 403 403 403 403 200"},
	{"POST", "/api/deliveries", `{"kind":"report","item":$T,"terms":{"when":{"every":"day","at":"08:00"},"people":[1]}}`, "401 403 403 200 200 200"},
	{"POST", "/api/deliveries", `{"kind":"report","item":$K,"terms":{"when":{"every":"day","at":"08:00"},"people":[1]}}`, "401 403 403 403 200 200"},
	{"POST", "/api/deliveries", `{"kind":"report","item":$P,"terms":{"when":{"every":"day","at":"08:00"},"people":[1]}}`, "401 404 404 404 200 404"},
	{"POST", "/api/deliveries/preview", `{"kind":"report","item":$T,"as":2,"terms":{"when":{"every":"day","at":"08:00"},"people":[2]}}`, "401 403 403 403 403 200"},
	{"PUT", "/api/deliveries/999999", `{"kind":"report","item":$T,"version":1,"terms":{"when":{"every":"day","at":"08:00"},"people":[1]}}`, "401 404 404 404 404 404"},
	{"DELETE", "/api/deliveries/999999", "", "401 404 404 404 404 404"},
	{"PUT", "/api/deliveries/999999/paused", `{"on":true}`, "401 404 404 404 404 404"},
	{"POST", "/api/deliveries/999999/send", `{}`, "401 404 404 404 404 404"},
	{"GET", "/api/outbox", "", "401 200 200 200 200 200"},
	{"GET", "/api/outbox?delivery=999999", "", "401 404 404 404 404 404"},
	{"GET", "/api/outbox/999999/letter", "", "401 404 404 404 404 404"},
	{"POST", "/api/outbox/999999/again", "", "401 404 404 404 404 404"},
	{"GET", "/api/coming", "", "401 200 200 200 200 200"},
	{"PUT", "/api/coming/999999", `{"left":true}`, "401 404 404 404 404 404"},
	{"POST", "/api/leave?key=NONE", "", "404 404 404 404 404 404"},
	{"GET", "/api/inbox", "", "401 200 200 200 200 200"},
	{"GET", "/api/inbox/unread", "", "401 200 200 200 200 200"},
	{"PUT", "/api/inbox/read", `{"upTo":1}`, "401 204 204 204 204 204"},
	{"PUT", "/api/inbox/quiet", `{"quiet":["followed"]}`, "401 204 204 204 204 204"},
	// Pictures of what one may take out.
	{"GET", "/api/reports/$T/picture?format=svg", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$K/picture?format=svg", "", "401 403 403 403 200 200"},
	{"GET", "/api/reports/$P/picture?format=svg", "", "401 404 404 404 200 404"},
	{"POST", "/api/picture?format=svg", `{"brief":$Q}`, "401 403 403 200 200 200"},
	{"POST", "/api/picture?format=svg", `{"brief":$Q,"report":$K}`, "401 403 403 403 200 200"},
	{"GET", "/api/boards/$B/picture", "", "401 200 200 200 200 200"},
	// What one keeps is one's own; readers keep what they may take out.
	{"POST", "/api/kept", `{"brief":$Q,"name":""}`, "401 403 403 200 200 200"},
	{"POST", "/api/kept", `{"brief":$Q,"name":"","report":$T}`, "401 200 200 200 200 200"},
	{"POST", "/api/kept", `{"brief":$Q,"name":"","report":$K}`, "401 403 403 403 200 200"},
	{"POST", "/api/kept", `{"brief":$Q,"name":"","report":$P}`, "401 404 404 404 200 404"},
	{"GET", "/api/kept", "", "401 200 200 200 200 200"},
	{"GET", "/api/kept/999999", "", "401 404 404 404 404 404"},
	{"GET", "/api/kept/999999/records", "", "401 404 404 404 404 404"},
	{"GET", "/api/kept/999999/against", "", "401 404 404 404 404 404"},
	{"GET", "/api/kept/999999/file?view=summary", "", "401 404 404 404 404 404"},
	{"PUT", "/api/kept/999999", `{"name":"x"}`, "401 404 404 404 404 404"},
	{"DELETE", "/api/kept/999999", "", "401 404 404 404 404 404"},
	{"POST", "/api/stood", `{"brief":$Q,"unit":"week","count":2}`, "401 200 200 200 200 200"},
	{"POST", "/api/moves", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"POST", "/api/held", `{"brief":{"version":1,"start":"deals"},"within":"last_quarter"}`, "401 200 200 200 200 200"},
	{"POST", "/api/passages", `{"brief":{"version":1,"start":"deals"},"within":"this_year"}`, "401 200 200 200 200 200"},
	{"POST", "/api/moves/groups", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"POST", "/api/moves/records", `{"brief":$Q,"step":"now"}`, "401 200 200 200 200 200"},
	{"POST", "/api/why", `{"brief":$Q,"id":"1"}`, "401 200 200 200 200 200"},
	{"POST", "/api/difference", `{"was":$Q,"now":$Q}`, "401 200 200 200 200 200"},
	// Readers take out what is saved; nobody what its owner keeps in.
	{"POST", "/api/export", `{"brief":$Q,"view":"summary"}`, "401 403 403 200 200 200"},
	{"POST", "/api/export", `{"brief":$Q,"view":"summary","report":$T}`, "401 200 200 200 200 200"},
	{"POST", "/api/export", `{"brief":$Q,"view":"summary","report":$K}`, "401 403 403 403 200 200"},
	{"POST", "/api/export", `{"brief":$Q,"view":"summary","report":$P}`, "401 404 404 404 200 404"},

	// Who sees a record may write it; nothing that the program keeps itself is written.
	{"GET", "/api/records/deals?count=1", "", "401 200 200 200 200 200"},
	{"POST", "/api/records/deals", `{"records":[{"name":""}]}`, "401 422 422 422 422 422"},
	{"PATCH", "/api/records/deals", `{"records":[{"id":1,"values":{"stage":"Nowhere"}}]}`, "401 422 422 422 422 422"},
	{"DELETE", "/api/records/deals", `{"ids":[999999]}`, "401 404 404 404 404 404"},
	{"GET", "/api/deleted-records/deals", "", "401 200 200 200 200 200"},
	{"POST", "/api/deleted-records/deals/back", `{"ids":[999999]}`, "401 404 404 404 404 404"},
	{"GET", "/api/work/none", "", "401 404 404 404 404 404"},
	{"POST", "/api/deleted-records/deals/999999/back", "", "401 404 404 404 404 404"},
	{"GET", "/api/records/deals/1/values", "", "401 200 200 200 200 200"},
	{"PATCH", "/api/records/deals/1", `{"values":{"changed":"2026-01-01T00:00:00"}}`, "401 422 422 422 422 422"},
	{"PATCH", "/api/records/people/3", `{"values":{"name":"Me"}}`, "401 422 422 422 422 422"},
	// Files are brought in by administrators and composers.
	{"POST", "/api/bring-in?name=a.csv", "name\nx\n", "401 403 403 200 200 200"},
	{"POST", "/api/bring-in/NONE/guess", `{"type":"deals"}`, "401 403 403 404 404 404"},
	{"GET", "/api/bring-in/NONE/progress", "", "401 404 404 404 404 404"},
	{"DELETE", "/api/bring-in/NONE/progress", "", "401 404 404 404 404 404"},
	{"POST", "/api/bring-in/NONE/try", `{"type":"deals","columns":[]}`, "401 403 403 404 404 404"},
	{"POST", "/api/bring-in/NONE/do", `{"type":"deals","columns":[]}`, "401 403 403 404 404 404"},
	{"POST", "/api/bring-in/NONE/refused", `{"type":"deals","columns":[]}`, "401 403 403 404 404 404"},
	{"GET", "/api/brought-in", "", "401 403 403 200 200 200"},
	{"POST", "/api/brought-in/999/undo", "", "401 403 403 404 404 404"},
	{"POST", "/api/records/customers/merge", `{"keep":1,"drop":[1]}`, "401 422 422 422 422 422"},
	{"POST", "/api/merges/99/undo", "", "401 404 404 404 404 404"},
	{"GET", "/api/me/second-factor", "", "401 200 200 200 200 200"},
	{"POST", "/api/me/second-factor", `{"password":"wrong"}`, "401 422 422 422 422 422"},
	{"PUT", "/api/me/second-factor", `{"code":"1"}`, "401 404 404 404 404 404"},
	{"DELETE", "/api/me/second-factor", `{"password":"wrong"}`, "401 422 422 422 422 422"},
	{"GET", "/api/rights", "", "401 403 403 403 403 200"},
	{"PUT", "/api/rights/team/1", `{"rights":["fly"],"version":0}`, "401 422 422 422 422 422"},
	{"PUT", "/api/rights/team/99", `{"rights":["targets"],"version":0}`, "401 403 403 403 403 404"},
	{"DELETE", "/api/people/99/second-factor", "", "401 403 403 403 403 204"},
	{"GET", "/api/settings/changes", "", "401 403 403 403 403 200"},
	{"POST", "/api/settings/changes/99/back", "", "401 403 403 403 403 404"},
	{"GET", "/api/settings/exceptions", "", "401 403 403 403 403 200"},
	{"PUT", "/api/settings/exceptions", `{"exceptions":[{"type":"lines","kind":"team","subject":1,"how":""}]}`, "401 403 403 403 403 422"},
	{"GET", "/api/settings/backup", "", "401 403 403 403 403 200"},
	{"GET", "/api/contacts.vcf", "", "401 200 200 200 200 200"},
	{"GET", "/api/planned.ics", "", "401 200 200 200 200 200"},
	{"GET", "/api/settings/mail", "", "401 200 200 200 200 200"},
	{"PUT", "/api/settings/mail", `{"host":"no host"}`, "401 403 403 403 403 422"},
	{"POST", "/api/letters", `{"keys":["NONE"]}`, "401 403 403 403 403 404"},
	// Records are shaped by administrators.
	{"GET", "/api/shape/deals", "", "401 403 403 403 403 200"},
	{"PUT", "/api/shape/deals/choices/kind", `{"choices":[]}`, "401 403 403 403 403 422"},
	{"GET", "/api/currencies", "", "401 403 403 403 403 200"},
	{"PUT", "/api/currencies", `{"others":["XXY"],"hold":35}`, "401 403 403 403 403 422"},
	{"PUT", "/api/shape/deals/stages", `{"stages":[]}`, "401 403 403 403 403 422"},
	{"PUT", "/api/rail", `{"order":["people"]}`, "401 403 403 403 403 422"},
	{"POST", "/api/shape/deals/fields", `{"label":"Value","kind":"money"}`, "401 403 403 403 403 409"},
	{"PUT", "/api/shape/deals/fields/value", `{"label":"X","kind":"money"}`, "401 403 403 403 403 404"},
	{"POST", "/api/shape", `{"label":"Deals","one":"x"}`, "401 403 403 403 403 409"},
	{"PUT", "/api/shape/deals", `{"label":"Customers","one":"x"}`, "401 403 403 403 403 409"},
	{"GET", "/api/shape/deals/uses", "", "401 403 403 403 403 422"},
	{"DELETE", "/api/shape/deals", "", "401 403 403 403 403 422"},
	{"DELETE", "/api/shape/deals/fields/value", "", "401 403 403 403 403 404"},
	{"GET", "/api/shape/deals/fields/value/uses", "", "401 403 403 403 403 404"},
	{"PUT", "/api/shape/deals/limits/owner", `{"see":"administrators","change":""}`, "401 403 403 403 403 422"},
	// Lists are of those who may change their report; how they look is everyone's own.
	{"GET", "/api/lists/deals", "", "401 200 200 200 200 200"},
	{"GET", "/api/lists/deals/search?text=pontoon", "", "401 200 200 200 200 200"},
	{"PUT", "/api/lists/deals/mine", `{"place":"above"}`, "401 204 204 204 204 204"},
	{"PUT", "/api/reports/$T/list", "", "401 403 403 403 204 204"},
	{"DELETE", "/api/reports/$T/list", "", "401 403 403 403 204 204"},
	{"PUT", "/api/reports/$P/list", "", "401 404 404 404 204 404"},
	{"POST", "/api/records/deals/many", `{"ids":[1],"values":{"source":"Tender"},"dry":true}`, "401 200 200 200 200 200"},
	{"POST", "/api/records/deals/paste", `{"rows":[{"id":999999,"values":{"name":"x"}}]}`, "401 404 404 404 404 404"},
	{"POST", "/api/records/deals/many/back", `{"changed":[]}`, "401 422 422 422 422 422"},
	// Who sees a record sees what was done about it, and writes it down.
	{"GET", "/api/records/deals/1/timeline", "", "401 200 200 200 200 200"},
	{"POST", "/api/records/deals/1/look", "", "401 200 200 200 200 200"},
	{"GET", "/api/records/deals/1/stages", "", "401 200 200 200 200 200"},
	{"POST", "/api/log", `{"about":[{"type":"deals","id":1}],"text":"call tomorrow 10 about the survey","dry":true}`, "401 200 200 200 200 200"},
	{"POST", "/api/log", `{"about":[{"type":"deals","id":999999}],"text":"call"}`, "401 404 404 404 404 404"},
	{"GET", "/api/duplicates/customers", "", "401 200 200 200 200 200"},
	{"PUT", "/api/duplicates/customers/apart", `{"a":1,"b":2,"on":false}`, "401 204 204 204 204 204"},
	{"GET", "/api/home/waits", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$T/follow", "", "401 200 200 200 200 200"},
	{"PUT", "/api/reports/$T/follow", `{"on":true}`, "401 204 204 204 204 204"},
	{"PUT", "/api/reports/$P/follow", `{"on":true}`, "401 404 404 404 204 404"},
	{"GET", "/api/boards/$B/follow", "", "401 200 200 200 200 200"},
	{"PUT", "/api/boards/$B/follow", `{"on":true}`, "401 204 204 204 204 204"},
	{"GET", "/api/follows/deals/1", "", "401 200 200 200 200 200"},
	{"PUT", "/api/follows/deals/1", `{"on":true}`, "401 204 204 204 204 204"},
	{"PUT", "/api/follows/deals/999999", `{"on":true}`, "401 404 404 404 404 404"},
	// People are looked after by administrators alone; what one does to oneself, by oneself.
	{"GET", "/api/people", "", "401 403 403 403 403 200"},
	{"POST", "/api/people", `{"people":[{"name":"","email":"x","role":"reader"}]}`, "401 403 403 403 403 422"},
	{"PUT", "/api/people/3", `{"name":"","email":"x","role":"reader"}`, "401 403 403 403 403 422"},
	{"POST", "/api/people/999/key", "", "401 403 403 403 403 404"},
	{"GET", "/api/people/3/holds", "", "401 403 403 403 403 200"},
	{"POST", "/api/people/999/leave", `{"to":{}}`, "401 403 403 403 403 404"},
	{"GET", "/api/me/sessions", "", "401 200 200 200 200 200"},
	{"DELETE", "/api/me/sessions", "", "401 204 204 204 204 204"},
	{"PUT", "/api/me/password", `{"was":"wrong wrong","password":"x"}`, "401 422 422 422 422 422"},
	{"GET", "/api/me/tokens", "", "401 200 200 200 200 200"},
	{"POST", "/api/me/tokens", `{"name":"x","scopes":["administer"],"days":1}`, "401 422 422 422 422 200"},
	{"DELETE", "/api/me/tokens/999", "", "401 404 404 404 404 404"},
	{"POST", "/api/setup", `{"key":"NONE"}`, "404 404 404 404 404 404"},
	{"POST", "/api/setup/organisation", `{"key":"NONE","company":{"name":"x","timezone":"UTC","weekStart":"monday","fiscalMonth":1,"currency":"EUR","figures":"en","days":"iso"}}`, "404 404 404 404 404 404"},
	{"POST", "/api/setup/administrator", `{"key":"NONE","name":"x","email":"x","password":"x"}`, "404 404 404 404 404 404"},
	{"PUT", "/api/setup/begin", `{"with":"demo"}`, "401 403 403 403 403 409"},
	{"PUT", "/api/setup/words", `{"words":[]}`, "401 403 403 403 403 409"},
	{"POST", "/api/keys/look", `{"key":"NONE"}`, "404 404 404 404 404 404"},
	{"POST", "/api/keys/take", `{"key":"NONE","password":"x"}`, "404 404 404 404 404 404"},

	{"GET", "/api/folders", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$T", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$P", "", "401 404 404 404 200 404"},
	{"GET", "/api/reports/$T/uses", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$P/uses", "", "401 404 404 404 200 404"},
	{"GET", "/api/reports/$T/pages", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$P/pages", "", "401 404 404 404 200 404"},
	{"GET", "/api/reports/$T/versions", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$P/versions", "", "401 404 404 404 200 404"},
	{"GET", "/api/reports/$T/dismissed", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$P/dismissed", "", "401 404 404 404 200 404"},
	{"GET", "/api/boards", "", "401 200 200 200 200 200"},
	{"POST", "/api/filters", `{"filters":{"whose":"mine"}}`, "401 200 200 200 200 200"},
	{"POST", "/api/settings/style/preview", `{"style":{"palette":["#114477","#117744","#771144"]}}`, "401 200 200 200 200 200"},
	{"GET", "/api/settings/people", "", "401 200 200 200 200 200"},
	{"GET", "/api/shares/report/$T", "", "401 403 403 403 200 200"},
	{"GET", "/api/shares/report/$P", "", "401 404 404 404 200 404"},
	{"GET", "/api/shares/board/$B", "", "401 403 403 403 200 200"},
	{"POST", "/api/panels", `{"panels":[{"report":$T}]}`, "401 200 200 200 200 200"},
	{"GET", "/api/boards/$B", "", "401 200 200 200 200 200"},
	{"GET", "/api/starting-points", "", "401 200 200 200 200 200"},
	{"GET", "/api/drafts", "", "401 200 200 200 200 200"},
	{"GET", "/api/settings/sees", "", "401 200 200 200 200 200"},

	{"PUT", "/api/favourites/report/$T", "", "401 204 204 204 204 204"},
	{"PUT", "/api/favourites/report/$P", "", "401 404 404 404 204 404"},
	{"DELETE", "/api/favourites/report/$T", "", "401 204 204 204 204 204"},
	{"PUT", "/api/opened/report/$T", "", "401 204 204 204 204 204"},
	{"PUT", "/api/opened/report/$P", "", "401 404 404 404 204 404"},

	{"POST", "/api/reports", `{"title":"One of the actor’s","description":"","folder":$F,"brief":$Q}`, "401 403 403 403 200 200"},
	{"PUT", "/api/reports/$T", `{"title":"Changed","description":"","folder":$F,"brief":$Q,"version":1}`, "401 403 403 403 200 200"},
	{"PUT", "/api/reports/$P", `{"title":"Changed as well","description":"","folder":$F,"brief":$Q,"version":1}`, "401 404 404 404 200 404"},
	{"PUT", "/api/reports/$T/style", `{"style":"quiet"}`, "401 403 403 403 200 200"},
	{"PUT", "/api/reports/$T/folder", `{"folder":$F}`, "401 403 403 403 200 200"},
	{"PUT", "/api/reports/$T/owner", `{"owner":1}`, "401 403 403 403 200 200"},
	{"PUT", "/api/reports/$T/dismissed", `{"code":"few"}`, "401 403 403 403 204 204"},
	{"POST", "/api/reports/$T/versions/1/back", "", "401 403 403 403 200 200"},
	{"PUT", "/api/reports/$T/board", `{"name":"A board of the actor’s"}`, "401 403 403 403 200 200"},
	{"PUT", "/api/drafts", `{"brief":$Q}`, "401 200 200 200 200 200"},
	{"DELETE", "/api/drafts/$D", "", "401 204 204 204 204 204"},
	{"GET", "/api/reports/$T/closed", "", "401 200 200 200 200 200"},
	{"GET", "/api/reports/$P/closed", "", "401 404 404 404 200 404"},
	{"PUT", "/api/pages/customers/$T", "", "401 403 403 403 403 204"},
	{"PUT", "/api/pages/customers/$T/look", `{"link":"customer","light":"below"}`, "401 403 403 403 403 204"},
	{"GET", "/api/page-layouts/customers", "", "401 200 200 200 200 200"},
	{"GET", "/api/page-layouts/customers/draft", "", "401 403 403 403 403 200"},
	{"PUT", "/api/page-layouts/customers/draft", `{"layout":{"first":["segment"]},"version":0,"revision":0}`, "401 403 403 403 403 200"},
	{"DELETE", "/api/page-layouts/customers/draft", "", "401 403 403 403 403 204"},
	{"PUT", "/api/page-layouts/customers", `{"layout":{"first":["segment"]},"version":0}`, "401 403 403 403 403 204"},
	{"GET", "/api/pages/customers", "", "401 403 403 403 403 200"},
	{"PUT", "/api/page-order/customers", `{"reports":[]}`, "401 403 403 403 403 204"},
	{"DELETE", "/api/pages/customers/$T", "", "401 403 403 403 403 204"},

	{"POST", "/api/boards", `{"title":"A board","folder":$F,"panels":[]}`, "401 403 403 403 200 200"},
	{"GET", "/api/sets", "", "401 200 200 200 200 200"},
	{"POST", "/api/sets/pipeline", `{"title":"A set","folder":$F}`, "401 403 403 403 200 200"},
	{"GET", "/api/boards/$B/whole", "", "401 200 200 200 200 200"},
	{"POST", "/api/whole-boards", `{"folder":$F,"board":{"title":"From a file","panels":[{"x":0,"y":0,"w":6,"h":9,"title":"One","brief":$Q},{"x":6,"y":0,"w":6,"h":2,"options":{"words":"Two"}}]}}`, "401 403 403 403 200 200"},
	{"PUT", "/api/boards/$B", `{"title":"Renamed","folder":$F,"version":1,"panels":[]}`, "401 403 403 403 200 200"},
	{"PUT", "/api/boards/$B/draft", `{"version":1,"panels":[]}`, "401 403 403 403 200 200"},
	{"GET", "/api/boards/$B/draft", "", "401 200 200 200 200 200"},
	{"DELETE", "/api/boards/$B/draft", "", "401 204 204 204 204 204"},
	{"GET", "/api/boards/$B/versions", "", "401 200 200 200 200 200"},
	{"POST", "/api/boards/$B/versions/1/back", "", "401 403 403 403 200 200"},
	{"PUT", "/api/board-order", `{"boards":[$B]}`, "401 204 204 204 204 204"},
	{"GET", "/api/boards/$B/closed", "", "401 403 403 403 200 200"},
	{"POST", "/api/boards/$B/open-reports", "", "401 403 403 403 200 200"},
	{"POST", "/api/boards/$B/panels", `{"report":$T}`, "401 403 403 403 200 200"},
	{"DELETE", "/api/boards/$B/reports/$T", "", "401 403 403 403 200 200"},
	{"PUT", "/api/boards/$B/folder", `{"folder":$F}`, "401 403 403 403 200 200"},
	{"PUT", "/api/boards/$B/owner", `{"owner":1}`, "401 403 403 403 200 200"},

	{"POST", "/api/folders", `{"name":"A folder of the actor’s","access":[]}`, "401 403 403 200 200 200"},
	{"PUT", "/api/folders/$N", `{"name":"Renamed","access":[{"kind":"team","subject":2,"mayChange":true}]}`, "401 403 403 404 204 204"},
	{"DELETE", "/api/folders/$N", "", "401 404 403 404 204 204"},

	{"PUT", "/api/shares/report/$T", `{"access":[{"kind":"person","subject":9,"mayChange":false}]}`, "401 403 403 403 204 204"},
	{"PUT", "/api/shares/board/$B", `{"access":[]}`, "401 403 403 403 204 204"},
	{"GET", "/api/settings/words", "", "401 200 200 200 200 200"},
	{"PUT", "/api/settings/words", `{"words":[{"name":"quick ones","brief":{"version":1,"start":"deals","filter":{"field":"status","is":"any_of","values":["open"]}}}],"version":1}`, "401 403 403 403 403 204"},
	{"GET", "/api/settings/figures", "", "401 200 200 200 200 200"},
	{"PUT", "/api/me/figures", `{"tag":""}`, "401 204 204 204 204 204"},
	{"PUT", "/api/settings/figures", `{"tag":"de","days":"dots"}`, "401 403 403 403 403 204"},
	{"PUT", "/api/settings/people", `{"readersKeep":true}`, "401 403 403 403 403 204"},

	{"GET", "/api/targets", "", "401 200 200 200 200 200"},
	{"GET", "/api/targets/won_value/grid", "", "401 403 403 403 403 200"},
	{"PUT", "/api/targets/won_value/amounts", `{"kind":"team","id":"2","year":2026,"from":0,"months":3,"amount":"900k","version":2}`, "401 403 403 403 403 200"},
	{"POST", "/api/targets", `{"name":"Lost value","brief":{"version":1,"start":"deals","period":{"field":"closed","within":"this_year"}}}`, "401 403 403 403 403 200"},
	{"PUT", "/api/targets/site_visits", `{"name":"Visits","version":2}`, "401 403 403 403 403 200"},
	{"DELETE", "/api/targets/site_visits", "", "401 403 403 403 403 204"},
	{"GET", "/api/home", "", "401 200 200 200 200 200"},
	{"GET", "/api/settings/homes", "", "401 200 200 200 200 200"},
	{"PUT", "/api/settings/homes/2", `{"board":$B,"version":1}`, "401 403 403 403 403 204"},
	{"GET", "/api/settings/style", "", "401 200 200 200 200 200"},
	{"POST", "/api/settings/palette", `{"palette":["#1F7A72","#E0930C"]}`, "401 200 200 200 200 200"},
	{"GET", "/api/styles", "", "401 200 200 200 200 200"},
	{"POST", "/api/styles", `{"name":"The actor’s","style":{"guides":"both"}}`, "401 403 403 200 200 200"},
	{"PUT", "/api/styles/quiet", `{"name":"Quiet","style":{"guides":"both"}}`, "401 403 403 403 403 200"},
	{"DELETE", "/api/styles/quiet", "", "401 403 403 403 403 204"},
	{"PUT", "/api/settings/style", `{"style":{"legend":"right"}}`, "401 403 403 403 403 204"},
	{"PUT", "/api/settings/sees/contacts", `{"how":"team"}`, "401 403 403 403 403 204"},
	{"POST", "/api/starting-points", `{"name":"A point","about":"","brief":$Q,"questions":[],"teams":[]}`, "401 403 403 403 403 204"},
	{"PUT", "/api/starting-points/$S", `{"name":"A point","about":"","brief":$Q,"questions":[],"teams":[]}`, "401 403 403 403 403 204"},
	{"DELETE", "/api/starting-points/$S", "", "401 403 403 403 403 204"},

	{"DELETE", "/api/reports/$P", "", "401 404 404 404 204 404"},
	{"DELETE", "/api/reports/$T", "", "401 403 403 403 204 204"},
	{"POST", "/api/deleted/report/$T/back", "", "401 404 404 404 204 204"},
	{"DELETE", "/api/boards/$B", "", "401 403 403 403 204 204"},
	{"DELETE", "/api/session", "", "204 204 204 204 204 204"},
}

// Every route of the API is asked for by everyone, and each gets what is theirs.
func TestEveryRouteForEveryRole(t *testing.T) {
	for i, who := range actors {
		t.Run(who.name, func(t *testing.T) {
			server := serve(t)
			owner := signIn(t, server, 1)
			ids := furnish(t, owner)
			c := owner
			if who.person != 1 {
				c = signIn(t, server, who.person)
			}
			for _, r := range routes {
				want := strings.Fields(r.want)[i]
				path, body := r.path, r.body
				for _, key := range keys(ids) {
					path, body = strings.ReplaceAll(path, key, ids[key]), strings.ReplaceAll(body, key, ids[key])
				}
				status, out := c.call(r.method, path, body)
				assert.Equal(t, want, fmt.Sprint(status), "%s %s: %v", r.method, r.path, out["detail"])
				if status == http.StatusNotFound {
					assert.NotContains(t, fmt.Sprint(out), "Secret", "a refusal does not name what may not be opened")
				}
			}
		})
	}
}

func keys(m map[string]string) []string {
	var list []string
	for k := range m {
		list = append(list, k)
	}
	sort.Strings(list)
	return list
}

// furnish makes what is asked for.
func furnish(t *testing.T, owner *client) map[string]string {
	t.Helper()
	return furnishIn(t, owner, "West shore")
}

func furnishIn(t *testing.T, owner *client, folder string) map[string]string {
	t.Helper()
	ids := map[string]string{"$Q": deals, "$S": "1"}
	var folders []struct {
		ID      int64
		Name    string
		Private bool
	}
	owner.list("/api/folders", &folders)
	private := ""
	for _, f := range folders {
		if f.Private {
			private = fmt.Sprint(f.ID)
		}
		if f.Name == folder {
			ids["$F"] = fmt.Sprint(f.ID)
		}
	}
	make := func(key, method, path, body string) {
		status, out := owner.call(method, path, body)
		require.Equal(t, http.StatusOK, status, "%s: %v", body, out)
		ids[key] = fmt.Sprint(out["id"])
	}
	fixed := `{"version":1,"start":"deals","filter":{"all":[{"field":"source","is":"any_of","values":["Tender"],"fixed":true}]}}`
	make("$T", "POST", "/api/reports", fmt.Sprintf(`{"title":"The team’s","description":"","folder":%s,"brief":%s}`, ids["$F"], `{"version":1,"start":"deals"}`))
	make("$P", "POST", "/api/reports", fmt.Sprintf(`{"title":"Secret plan","description":"","folder":%s,"brief":%s}`, private, `{"version":1,"start":"deals"}`))
	make("$K", "POST", "/api/reports", fmt.Sprintf(`{"title":"Kept in","description":"","folder":%s,"brief":%s,"noDownload":true}`, ids["$F"], fixed))
	make("$B", "POST", "/api/boards", fmt.Sprintf(`{"title":"The team’s board","folder":%s,"panels":[{"report":%s,"x":0,"y":0,"w":6,"h":9}]}`, ids["$F"], ids["$T"]))
	make("$N", "POST", "/api/folders", `{"name":"Secret folder","access":[{"kind":"team","subject":2,"mayChange":true}]}`)
	make("$D", "PUT", "/api/drafts", fmt.Sprintf(`{"brief":%s}`, deals))
	return ids
}

// The table above has every route that the contract names.
func TestNoRouteIsLeftOut(t *testing.T) {
	data, err := os.ReadFile("../../docs/openapi.json")
	require.NoError(t, err)
	var contract struct {
		Paths map[string]map[string]any `json:"paths"`
	}
	require.NoError(t, json.Unmarshal(data, &contract))
	asked := map[string]bool{}
	for _, r := range routes {
		path, _, _ := strings.Cut(r.path, "?")
		asked[r.method+" "+path] = true
	}
	fits := func(pattern, path string) bool {
		a, b := strings.Split(pattern, "/"), strings.Split(path, "/")
		if len(a) != len(b) {
			return false
		}
		for i := range a {
			if a[i] != b[i] && !strings.HasPrefix(a[i], "{") {
				return false
			}
		}
		return true
	}
	for pattern, methods := range contract.Paths {
		for method := range methods {
			found := false
			for key := range asked {
				verb, path, _ := strings.Cut(key, " ")
				found = found || (strings.EqualFold(verb, method) && fits(pattern, path))
			}
			assert.True(t, found, "no actor asks for %s %s", method, pattern)
		}
	}
}

func TestEventsWantAPerson(t *testing.T) {
	status, _ := signIn(t, serve(t), 0).call("GET", "/api/events", "")
	require.Equal(t, http.StatusUnauthorized, status)
}

// A condition that its owner fixed narrows what everyone reads, and is neither said nor handed out to those who may not
// change the report.
func TestFixedConditionsAreNotSeen(t *testing.T) {
	server := serve(t)
	owner, reader, elsewhere := signIn(t, server, 1), signIn(t, server, 8), signIn(t, server, 7)
	ids := furnish(t, owner)
	_, mine := owner.call("GET", "/api/reports/"+ids["$K"], "")
	require.Contains(t, fmt.Sprint(mine["brief"], mine["text"]), "Tender")
	_, theirs := reader.call("GET", "/api/reports/"+ids["$K"], "")
	require.NotContains(t, fmt.Sprint(theirs), "Tender")
	require.NotContains(t, fmt.Sprint(theirs), "source")
	text, err := json.Marshal(theirs["brief"])
	require.NoError(t, err)

	_, full := owner.call("POST", "/api/answer", fmt.Sprintf(`{"brief":%s}`, mustJSON(t, mine["brief"])))
	status, read := reader.call("POST", "/api/answer", fmt.Sprintf(`{"brief":%s}`, text))
	require.Equal(t, http.StatusOK, status, read)
	require.Equal(t, full["records"], read["records"])
	require.NotEqual(t, full["of"], read["records"], "it narrows")
	require.NotContains(t, fmt.Sprint(read["sentence"]), "Tender")
	_, explained := reader.call("POST", "/api/explain", fmt.Sprintf(`{"brief":%s}`, text))
	require.Contains(t, fmt.Sprint(explained), "what its owner fixed")
	require.NotContains(t, fmt.Sprint(explained), "Tender")
	_, versions := reader.call("GET", "/api/reports/"+ids["$K"]+"/versions", "")
	require.NotContains(t, fmt.Sprint(versions), "Tender")

	// It cannot be kept as one's own, nor be made up.
	status, out := elsewhere.call("POST", "/api/reports", fmt.Sprintf(`{"title":"A copy","description":"","folder":%s,"brief":%s}`, ids["$F"], text))
	require.Equal(t, http.StatusForbidden, status, out)
	status, _ = reader.call("POST", "/api/answer", `{"brief":{"version":1,"start":"deals","filter":{"all":[{"fixed":true,"sealed":"AAAA"}]}}}`)
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

func mustJSON(t *testing.T, v any) string {
	t.Helper()
	text, err := json.Marshal(v)
	require.NoError(t, err)
	return string(text)
}

// Why a record is out is said by the condition, in parts too; of a condition that its owner fixed, only that it is one.
func TestWhyNamesTheCondition(t *testing.T) {
	server := serve(t)
	owner, reader := signIn(t, server, 1), signIn(t, server, 8)
	ids := furnish(t, owner)
	why := func(c *client, brief, id string) string {
		status, out := c.call("POST", "/api/why", fmt.Sprintf(`{"brief":%s,"id":%q}`, brief, id))
		require.Equal(t, http.StatusOK, status, out)
		return fmt.Sprint(out["out"])
	}
	first := func(filter string) string {
		_, list := owner.call("POST", "/api/list", fmt.Sprintf(`{"brief":{"version":1,"start":"deals","filter":{"all":[%s]}},"count":1}`, filter))
		return list["rows"].([]any)[0].(map[string]any)["id"].(string)
	}
	lost := first(`{"field":"status","is":"any_of","values":["lost"]},{"field":"closed","is":"within","period":"last_year"}`)
	parts := `{"version":1,"parts":[{"key":"won","start":"deals","whose":"mine","period":{"field":"closed","within":"this_year"},"filter":{"field":"status","is":"any_of","values":["won"]}},{"key":"work","start":"activities","summaries":[{"key":"n","fn":"count"}]}]}`
	said := why(owner, parts, lost)
	require.Contains(t, said, "period is this year")
	require.Contains(t, said, "status is won")
	require.NotContains(t, said, "fixed")

	_, theirs := reader.call("GET", "/api/reports/"+ids["$K"], "")
	referral := first(`{"field":"source","is":"any_of","values":["Referral"]}`)
	said = why(reader, mustJSON(t, theirs["brief"]), referral)
	require.Contains(t, said, "what its owner fixed")
	require.NotContains(t, said, "Referral", "the field that it is about is not given away")
}
