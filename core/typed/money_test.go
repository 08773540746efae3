package typed_test

import "testing"

// In which currency amounts are, and at the rates of which days, is typed as sentences say it.
func TestMoney(t *testing.T) {
	for text, want := range map[string]string{
		"deals, amounts as recorded, by currency, sum of value":                                          `{"version":1,"start":"deals","groups":[{"field":"currency"}],"summaries":[{"key":"sum_value","fn":"sum","of":"value"}],"money":{"as":"recorded"},"chart":{"kind":"bar"}}`,
		"deals, sum of value, amounts in EUR at the rate of created, else today":                         `{"version":1,"start":"deals","summaries":[{"key":"sum_value","fn":"sum","of":"value"}],"money":{"rates":[{"of":"deals","at":["created"]}]}}`,
		"deals, sum of value, amounts at the rate of today":                                              `{"version":1,"start":"deals","summaries":[{"key":"sum_value","fn":"sum","of":"value"}],"money":{"rates":[{"of":"deals"}]}}`,
		"deals, sum of value, amounts in EUR at the rate of closed, else expected close, else today":     `{"version":1,"start":"deals","summaries":[{"key":"sum_value","fn":"sum","of":"value"}]}`,
		"customers, amounts of deals in EUR at the rate of created, else closed, else today, by segment": `{"version":1,"start":"customers","groups":[{"field":"segment"}],"money":{"rates":[{"of":"deals","at":["created","closed"]}]},"chart":{"kind":"bar"}}`,
		"lines, sum of amount, amounts of lines in EUR at the rate of deal's created, else today":        `{"version":1,"start":"lines","summaries":[{"key":"sum_amount","fn":"sum","of":"amount"}],"money":{"rates":[{"of":"lines","at":["deal.created"]}]}}`,
	} {
		readsAs(t, text, want)
	}
}
