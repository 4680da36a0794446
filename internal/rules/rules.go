// Package rules holds the checks, one file each with its page and samples,
// and the one list of them.
package rules

import "reed/internal/rule"

// All returns every rule, by concern and then in the order of importance.
func All() []*rule.Rule { return all }

var all = []*rule.Rule{}

// Find returns the rule of that name, or nil.
func Find(name string) *rule.Rule {
	for _, r := range all {
		if r.Name == name {
			return r
		}
	}
	return nil
}
