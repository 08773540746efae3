// Package demo makes the invented company that the application is shown with: Brinehaven Docks, a maker of floating
// pontoons, gangways and mooring gear. All names are made up. Its data is made from a seed and the day, so that this
// quarter is always alive, and through the same store code as the application's own.
package demo

import "uzzel/core/schema"

// Name is the organisation's name.
const Name = "Brinehaven Docks"

// Password is the password of every demo account.
const Password = "amber beak"

// Settings are the organisation's settings.
func Settings() schema.Settings {
	return schema.Settings{Timezone: "Europe/Lisbon", WeekStart: "monday", FiscalMonth: 4, Currency: "EUR",
		Currencies: []string{"NOK", "SEK", "DKK", "GBP"},
		Stages: []schema.Stage{
			{Name: "Enquiry", Pipeline: "Projects", Status: "open", Likelihood: 10},
			{Name: "Site survey", Pipeline: "Projects", Status: "open", Likelihood: 25},
			{Name: "Design", Pipeline: "Projects", Status: "open", Likelihood: 45},
			{Name: "Offer sent", Pipeline: "Projects", Status: "open", Likelihood: 60},
			{Name: "Contract review", Pipeline: "Projects", Status: "open", Likelihood: 80},
			{Name: "Ordered", Pipeline: "Projects", Status: "won", Likelihood: 100},
			{Name: "Not taken up", Pipeline: "Projects", Status: "lost", Likelihood: 0},
			{Name: "Due", Pipeline: "Care", Status: "open", Likelihood: 60},
			{Name: "Renewal sent", Pipeline: "Care", Status: "open", Likelihood: 75},
			{Name: "Renewed", Pipeline: "Care", Status: "won", Likelihood: 100},
			{Name: "Ended", Pipeline: "Care", Status: "lost", Likelihood: 0}},
		Choices: map[string][]string{
			"customers.segment":  segments,
			"customers.kind":     {"Prospect", "Customer", "Former customer"},
			"customers.source":   {"Referral", "Trade fair", "Web form", "Tender", "Cold call"},
			"contacts.kind":      {"Decides", "Advises", "Pays"},
			"contacts.source":    {"Referral", "Trade fair", "Web form"},
			"deals.kind":         {"New build", "Extension", "Refit", "Service plan"},
			"deals.source":       {"Referral", "Trade fair", "Web form", "Tender", "Repeat"},
			"activities.kind":    {"Call", "Site visit", "Video meeting", "Email", "Text message", "Letter", "To-do"},
			"activities.purpose": {"First talk", "Survey plan", "Offer talk", "Care"},
			"activities.outcome": {"Reached", "No answer", "Follow up", "Agreed"},
			"products.family":    {"Pontoon", "Mooring", "Gangway", "Power post"}}}
}

var segments = []string{"Marina", "Harbour", "Sailing club", "Ferry line", "Fish farm", "Lake resort"}

var teams = []string{"North shore", "West shore", "Inland", "Key sites"}

// Person is one of the demo's people.
type Person struct {
	Name string
	Team int // place in teams
	Role string
	Job  string
}

// People are the fourteen, by id from 1.
var People = []Person{
	{"Maite Corrie", 1, "composer", "Sales manager, West shore"},
	{"Osric Jarrow", 3, "administrator", "Runs the customer database"},
	{"Aldo Marlow", 1, "reader", "Seller, West shore"},
	{"Runa Kestle", 1, "reader", "Seller, West shore"},
	{"Sven Ibsley", 1, "reader", "Seller, West shore"},
	{"Tilde Farrow", 1, "reader", "Seller, West shore"},
	{"Petra Gantry", 0, "composer", "Sales manager, North shore"},
	{"Joren Brandt", 0, "reader", "Seller, North shore"},
	{"Ilva Norrie", 0, "reader", "Seller, North shore"},
	{"Edda Quill", 2, "composer", "Sales manager, Inland"},
	{"Bram Sedge", 2, "reader", "Seller, Inland"},
	{"Nuno Tarn", 2, "reader", "Seller, Inland"},
	{"Hale Winterton", 3, "reader", "Director"},
	{"Oda Fennick", 3, "reader", "Seller, Key sites"},
}

var firstNames = []string{
	"Finn",
	"Maren",
	"Ulf",
	"Tova",
	"Ines",
	"Rui",
	"Greta",
	"Pim",
	"Saoirse",
	"Lasse",
	"Noor",
	"Dario",
	"Elin",
	"Piet",
	"Vera",
	"Jonas",
	"Ayla",
	"Tiago",
	"Bente",
	"Oskar",
}

var lastNames = []string{
	"Holm",
	"Wick",
	"Sand",
	"Tarnley",
	"Rushford",
	"Kelpin",
	"Ardal",
	"Breck",
	"Eider",
	"Marsk",
	"Lindry",
	"Fallow",
	"Strand",
	"Corvel",
	"Tern",
	"Haddock",
	"Lorne",
	"Pellow",
	"Ness",
	"Voss",
}

var placeHeads = []string{
	"Eider",
	"Kelp",
	"Tern",
	"Fenn",
	"Rush",
	"Quay",
	"Gull",
	"Wick",
	"Sand",
	"Holm",
	"Tarn",
	"Skerry",
	"Oyster",
	"Brine",
	"Marram",
	"Heron",
	"Lantern",
	"Cormor",
	"Sedge",
	"Drift",
}

var placeTails = []string{
	"haven",
	"port",
	"wick",
	"bay",
	"ness",
	"mere",
	"stead",
	"sund",
	"holm",
	"garth",
	"mouth",
	"strand",
}

var customerKinds = map[string][]string{
	"Marina":       {"Marina", "Yacht Harbour", "Berths"},
	"Harbour":      {"Harbour", "Port", "Harbour Board"},
	"Sailing club": {"Yacht Club", "Sailing Club", "Boat Club"},
	"Ferry line":   {"Ferries", "Crossings", "Ferry Line"},
	"Fish farm":    {"Aquafarm", "Salmon", "Sea Farm"},
	"Lake resort":  {"Lido", "Lake Resort", "Lakeside"},
}

var works = []string{
	"Pontoon ring",
	"Mooring field",
	"Power posts",
	"Gangway",
	"Berth extension",
	"Breakwater",
	"Winter refit",
	"Fuel jetty",
	"Visitor quay",
	"Walkway",
}
var countries = []string{"PT", "ES", "FR", "IE", "NL", "DK", "NO", "SE", "FI", "DE"}
var jobs = []string{"Harbour master", "Site manager", "Club secretary", "Buyer", "Owner", "Engineer", "Bookkeeper"}

var subjects = []string{
	"Berth plan",
	"Site walk",
	"Prices",
	"Delivery dates",
	"Mooring layout",
	"Permit",
	"Survey photos",
	"Care contract",
	"Insurance papers",
	"Second offer",
	"Handover",
	"Winter storage",
}
