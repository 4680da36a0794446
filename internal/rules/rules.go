// Package rules holds the checks, each with its page and samples, and the one
// list of them.
package rules

import "reed/internal/rule"

// All returns every rule, by concern and then in the order of importance.
func All() []*rule.Rule { return all }

var all = []*rule.Rule{
	FailureUnderstated, ErrorWithoutFailure, WordingContradictsLevel,
	MessageConcatenated, MessageInterpolated, MessageFormatted, PlaceholderMismatch, MessageVague,
	PrintLeftover, DumpLeftover, DebuggerLeftover,
	CauseDropped, SilentFailure, NoValues,
	SecretValue, SecretLiteral, WholeObject,
}

// Find returns the rule of that name, or nil.
func Find(name string) *rule.Rule {
	for _, r := range all {
		if r.Name == name {
			return r
		}
	}
	return nil
}

// sample makes an example of a rule's page: a bad file and a good one.
func sample(language, bad, good string) rule.Example {
	return rule.Example{Language: language, Bad: bad, Good: good}
}
