package analyze

import "reed/internal/rule"

// prepare settles what rules ask about a file as a whole.
func prepare(p *rule.Pass) {}
