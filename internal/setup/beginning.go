package setup

import "uzzel/core/schema"

// WeekStarts are the days that a week can begin on.
var WeekStarts = []string{"monday", "sunday", "saturday", "friday", "tuesday", "wednesday", "thursday"}

// beginning is what an organisation begins with until it shapes its own: one pipeline, and what activities are.
var beginning = schema.Settings{
	Stages: []schema.Stage{
		{Name: "Enquiry", Status: "open", Likelihood: 10},
		{Name: "In talks", Status: "open", Likelihood: 30},
		{Name: "Offer made", Status: "open", Likelihood: 60},
		{Name: "Agreed", Status: "won", Likelihood: 100},
		{Name: "Not taken up", Status: "lost", Likelihood: 0},
	},
	Choices: map[string][]string{
		"activities.kind":    {"Call", "Visit", "Meeting", "Email", "To-do"},
		"activities.outcome": {"Reached", "Not reached", "Agreed"},
		"customers.kind":     {"Prospect", "Customer", "Former customer"},
	},
}
