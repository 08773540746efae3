package httpapi_test

import (
	"encoding/json"
	"fmt"

	"uzzel/internal/httpapi"
)

// The contract, made from the handlers' types.
func ExampleSpec() {
	text, err := httpapi.Spec()
	var doc struct {
		OpenAPI string
		Info    struct{ Title string }
		Paths   map[string]any
	}
	if err == nil {
		err = json.Unmarshal(text, &doc)
	}
	fmt.Println(doc.OpenAPI, doc.Info.Title, doc.Paths["/api/answer"] != nil, err)
	// Output: 3.1.0 Uzzel true <nil>
}
