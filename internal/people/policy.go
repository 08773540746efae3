package people

import (
	"context"
	"encoding/json"

	"uzzel/internal/store"
)

// PolicySetting is the preference that holds the policy.
const PolicySetting = "people policy"

// Policy is what people of a role may do that an organisation decides itself.
type Policy struct {
	// ReadersKeep says that readers may keep reports of their own, in their private folders.
	ReadersKeep bool `json:"readersKeep"`
	// SecondFactor says that everyone signs in with a code besides the password.
	SecondFactor bool `json:"secondFactor,omitempty"`
	// Version counts its changes.
	Version int `json:"-"`
}

// ReadPolicy reads the policy that is in force; one that was never set lets readers keep reports.
func ReadPolicy(ctx context.Context, s *store.Store) (*Policy, error) {
	p := Policy{ReadersKeep: true}
	text, version, err := s.Preference(ctx, PolicySetting)
	if err == nil && text != "" {
		err = json.Unmarshal([]byte(text), &p)
	}
	p.Version = version
	return &p, err
}
