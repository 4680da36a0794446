package outline

import (
	"strings"

	"reed/internal/lex"
)

// errorElements are the elements of pipelines whose content runs only after a
// failure; loopElements run theirs once for each part of something.
var (
	errorElements = map[string]bool{
		"error-handler": true, "on-error-continue": true, "on-error-propagate": true, "onexception": true, "docatch": true, "catch": true, "fault": true, "faultsequence": true, "onerror": true,
		"errorhandler": true, "catch-exception-strategy": true, "choice-exception-strategy": true, "rollback-exception-strategy": true, "exception": true, "catchall": true, "error": true, "failure": true, "deadletter": true,
	}
	loopElements = map[string]bool{"foreach": true, "for-each": true, "loop": true, "while": true, "iterate": true, "split": true, "repeat": true, "for": true, "parallel-foreach": true}
	flowElements = map[string]bool{
		"flow": true, "sub-flow": true, "subflow": true, "route": true, "sequence": true, "proxy": true, "stage": true, "pipeline": true, "target": true, "process": true, "api": true, "resource": true, "step": true, "routetemplate": true, "job": true, "task": true,
	}
)

// elements walks the tags of an XML pipeline: flows are functions, elements
// that handle errors are failure paths, elements of interest are calls.
func (p *parser) elements(n int32) {
	type open struct {
		name  string
		scope int32
	}
	stack := []open{{scope: 0}}
	for i := int32(0); i < n; i++ {
		if p.kind(i) != '<' {
			continue
		}
		if p.kind(i+1) == '/' {
			name := string(p.text(i + 2))
			for k := len(stack) - 1; k > 0 && k > len(stack)-64; k-- {
				if stack[k].name == name {
					for _, o := range stack[k:] {
						if o.scope > 0 && o.scope != stack[k-1].scope {
							p.Scopes[o.scope].Close = i
						}
					}
					stack = stack[:k]
					break
				}
			}
			continue
		}
		if p.kind(i+1) != lex.Ident {
			continue
		}
		end := p.partner[i]
		if end < 0 {
			continue
		}
		name := string(p.text(i + 1))
		local := name[strings.LastIndexByte(name, ':')+1:]
		scope := stack[len(stack)-1].scope
		if p.names.Candidate([]byte(local)) {
			p.Calls = append(p.Calls, Call{Name: i + 1, Open: -1, Scope: scope, From: i + 2, To: max(end, i+2)})
		}
		if p.kind(end-1) == '/' {
			i = end
			continue
		}
		at := scope
		low := strings.ToLower(local)
		s := Scope{Parent: scope, Head: i, Open: end + 1, Close: n, Name: -1}
		switch {
		case errorElements[low]:
			s.Kind, s.Traits = Failure, Handler
			at = p.newScope(s)
		case loopElements[low]:
			s.Kind = Loop
			at = p.newScope(s)
		case flowElements[low]:
			s.Kind, s.Traits, s.Name = Func, Public, p.attribute(i+2, end, "name", "id", "key", "uri")
			at = p.newScope(s)
		}
		if len(stack) < 10_000 {
			stack = append(stack, open{name, at})
		}
		i = end
	}
}

// attribute returns the token of the value of the first attribute of one of
// the names, -1 when there is none.
func (p *parser) attribute(i, end int32, names ...string) int32 {
	for _, want := range names {
		for j := i; j < end; j++ {
			if p.kind(j) == lex.Ident && p.is(j, want) && p.kind(j+1) == '=' && p.kind(j+2) == lex.String {
				return j + 2
			}
		}
	}
	return -1
}
