// Package secret tells secrets by their names and by their forms. It masks
// what must never be printed.
package secret

import (
	"math"
	"regexp"
	"strings"
	"unicode"
)

// Words splits a name of any convention into lower-case words: apiKey,
// API_KEY, api-key and APIKey all give api, key.
func Words(name string) []string {
	var words []string
	start := 0
	runes := []rune(name)
	flush := func(end int) {
		if end > start {
			words = append(words, strings.ToLower(string(runes[start:end])))
		}
		start = end
	}
	for i, r := range runes {
		switch {
		case !unicode.IsLetter(r) && !unicode.IsDigit(r):
			flush(i)
			start = i + 1
		case unicode.IsUpper(r) && i > start && (!unicode.IsUpper(runes[i-1]) || i+1 < len(runes) && unicode.IsLower(runes[i+1])):
			flush(i)
		}
	}
	flush(len(runes))
	return words
}

// strong are words that say secret alone.
var strong = map[string]bool{
	"password": true, "passwd": true, "pwd": true, "passphrase": true, "passcode": true, "secret": true, "secrets": true, "apikey": true, "authorization": true, "credential": true, "credentials": true,
	"privatekey": true, "secretkey": true, "accesskey": true, "cvv": true, "cvc": true, "pincode": true, "passwords": true, "creditcard": true, "cardnumber": true, "bearer": true,
}

// pairs are two words that say secret together.
var pairs = map[string]bool{
	"api key": true, "private key": true, "secret key": true, "access key": true, "auth key": true, "encryption key": true, "signing key": true, "card number": true, "credit card": true, "pin code": true,
	"connection string": true, "auth header": true, "session cookie": true, "session token": true, "access token": true, "refresh token": true, "auth token": true, "bearer token": true, "id token": true,
	"csrf token": true, "jwt token": true, "api token": true, "set cookie": true, "device token": true, "login token": true, "user token": true, "client secret": true, "reset token": true, "security code": true, "shared key": true,
}

// weak are words that say secret unless the surroundings speak of something
// else.
var weak = map[string]bool{"token": true, "cookie": true, "cookies": true, "jwt": true, "pin": false}

// harmless are words behind or before a secret word that turn the name into
// one about a secret.
var harmless = map[string]bool{
	"count": true, "counts": true, "length": true, "len": true, "size": true, "type": true, "types": true, "name": true, "names": true, "id": true, "ids": true, "file": true, "path": true, "url": true, "uri": true, "field": true, "fields": true,
	"enabled": true, "required": true, "valid": true, "invalid": true, "expiry": true, "expires": true, "expiration": true, "ttl": true, "age": true, "policy": true, "hash": true, "hashed": true, "digest": true, "index": true, "policies": true,
	"has": true, "is": true, "no": true, "num": true, "number": false, "masked": true, "redacted": true, "encrypted": true, "hidden": true, "provider": true, "manager": true, "store": true, "service": true, "client": false, "endpoint": true, "ref": true, "dir": true, "folder": true,
	"status": true, "state": true, "error": true, "errors": true, "less": true, "version": true, "class": true, "kind": true, "source": true, "factory": true, "usage": true, "limit": true, "limits": true, "rotation": true, "lifetime": true, "prompt": false, "date": true, "time": true, "at": true,
	"scope": true, "scopes": true, "issuer": true, "audience": true, "filter": true, "handler": true, "format": true, "strength": true, "attempts": true, "change": true, "reset": false, "mode": true, "option": true, "options": true, "param": true, "parameter": true, "table": true, "column": true, "label": true, "title": true, "message": true, "arn": true, "spec": true, "namespace": true, "lister": true, "informer": true,
	"cancellation": true, "continuation": true, "page": true, "next": true, "sync": true, "delta": true, "resume": true, "watch": true, "fencing": true, "idempotency": true, "placeholder": true, "separator": true, "parser": true, "max": true, "min": true, "total": true, "used": true, "remaining": true, "end": true, "start": true, "first": true, "last": true, "prev": true, "previous": true, "current": true, "expected": true, "unexpected": true, "stop": true, "eos": true, "bos": true, "pad": true, "input": false, "output": true, "location": true, "bucket": true, "jar": true, "consent": true, "banner": true, "public": true, "info": true, "metadata": true, "request": false, "response": false, "generator": true, "annotation": true, "signed": true, "known": true, "config": false, "ring": true, "uuid": true, "guid": true, "attribute": true, "attributes": true, "attr": true, "allowed": true, "configuration": true, "storage": true, "environment": true, "variable": true, "variables": true, "alias": true, "handle": true, "exists": true, "present": true, "missing": true, "set": true,
}

// Strength tells how surely a name says that its value is a secret.
type Strength uint8

// The strengths.
const (
	None Strength = iota
	Weak
	Strong
)

// Named judges a name: a variable, property, header, key or parameter.
func Named(name string) Strength {
	words := Words(name)
	best := None
	for i, w := range words {
		two := ""
		if i+1 < len(words) {
			two = w + " " + words[i+1]
		}
		switch {
		case pairs[two]:
			if i+2 < len(words) && harmless[words[i+2]] || i > 0 && harmless[words[i-1]] {
				return None
			}
			best = Strong
		case strong[w]:
			if about(words, i) {
				return None
			}
			best = Strong
		case weak[w] && best == None:
			if about(words, i) {
				return None
			}
			best = Weak
		}
	}
	return best
}

// about tells whether the word at i is only what another word is about.
func about(words []string, i int) bool {
	for j := i + 1; j < len(words); j++ {
		if harmless[words[j]] {
			return true
		}
	}
	for j := 0; j < i; j++ {
		if harmless[words[j]] {
			return true
		}
	}
	return false
}

// Range is a range of bytes of a text.
type Range struct{ From, To int }

var (
	pemKey    = regexp.MustCompile(`-----BEGIN [A-Z ]*PRIVATE KEY-----[^-]*`)
	urlCreds  = regexp.MustCompile(`[a-zA-Z][a-zA-Z0-9+.-]{1,20}://[^/\s:@'"{}<>$%*]{1,80}:([^/\s@'"{}<>$%*]{3,80})@[a-zA-Z0-9\[]`)
	assigned  = regexp.MustCompile(`(?i)\b(?:password|passwd|pwd|passphrase|secret|api[_-]?key|access[_-]?token|auth[_-]?token|secret[_-]?key|token)["']?\s*[=:]\s*["']?([^\s'"{}<>$%*,;()\[\]\\]{6,})`)
	bearer    = regexp.MustCompile(`(?i)\b(?:bearer|basic)\s+([A-Za-z0-9._~+/-]{20,}=*)`)
	webToken  = regexp.MustCompile(`\beyJ[A-Za-z0-9_-]{8,}\.eyJ[A-Za-z0-9_-]{8,}\.[A-Za-z0-9_-]{8,}`)
	keyForm   = regexp.MustCompile(`\b(?:AKIA[0-9A-Z]{16}|gh[pousr]_[A-Za-z0-9]{36}|xox[abprs]-[A-Za-z0-9-]{20,}|[sr]k_(?:live|test)_[A-Za-z0-9]{20,}|AIza[A-Za-z0-9_-]{35})\b`)
	wordsOnly = regexp.MustCompile(`^[a-z.,;:!?-]+$`)
)

// Find returns the credentials that stand in a text: keys, tokens of known
// form, URLs with a password, assignments, strings of high entropy.
func Find(s string) []Range {
	if len(s) < 10 {
		return nil
	}
	var found []Range
	add := func(from, to int) {
		for _, r := range found {
			if from < r.To && to > r.From {
				return
			}
		}
		found = append(found, Range{from, to})
	}
	if strings.Contains(s, "PRIVATE KEY") {
		for _, m := range pemKey.FindAllStringIndex(s, -1) {
			add(m[0], m[1])
		}
	}
	if at := strings.Index(s, "://"); at >= 0 && strings.IndexByte(s[at:], '@') > 0 {
		for _, m := range urlCreds.FindAllStringSubmatchIndex(s, -1) {
			if !placeholderWord(s[m[2]:m[3]]) {
				add(m[2], m[3])
			}
		}
	}
	if strings.ContainsAny(s, "=:") && mayAssign(s) {
		for _, m := range assigned.FindAllStringSubmatchIndex(s, -1) {
			if v := s[m[2]:m[3]]; !placeholderWord(v) && literalLike(v) {
				add(m[2], m[3])
			}
		}
	}
	if len(s) >= 26 {
		known(s, add)
	}
	for i := 0; i+32 <= len(s); {
		n := i
		for n < len(s) && runByte(s[n]) {
			n++
		}
		if n-i >= 32 && dense(s[i:n]) {
			add(i, n)
		}
		i = n + 1
	}
	return found
}

// known finds tokens of known form.
func known(s string, add func(from, to int)) {
	if strings.Contains(s, "earer") || strings.Contains(s, "asic ") {
		for _, m := range bearer.FindAllStringSubmatchIndex(s, -1) {
			if strings.ContainsAny(s[m[2]:m[3]], "0123456789") {
				add(m[2], m[3])
			}
		}
	}
	if strings.Contains(s, "eyJ") {
		for _, m := range webToken.FindAllStringIndex(s, -1) {
			add(m[0], m[1])
		}
	}
	for _, sign := range []string{"AKIA", "gh", "xox", "k_", "AIza"} {
		if strings.Contains(s, sign) {
			for _, m := range keyForm.FindAllStringIndex(s, -1) {
				add(m[0], m[1])
			}
			return
		}
	}
}

func runByte(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '+' || c == '/' || c == '_' || c == '-' || c == '='
}

// mayAssign is a cheap test that every text passes in which assigned finds
// something.
func mayAssign(s string) bool {
	for _, part := range []string{"ass", "ASS", "wd", "WD", "ecret", "ECRET", "oken", "OKEN", "ey", "EY"} {
		if strings.Contains(s, part) {
			return true
		}
	}
	return false
}

// literalLike tells whether a value behind "password=" is one rather than a
// word of the sentence.
func literalLike(v string) bool {
	if wordsOnly.MatchString(v) {
		return false
	}
	return strings.ContainsAny(v, "0123456789!@#&^+") && strings.IndexFunc(v, unicode.IsLetter) >= 0
}

func placeholderWord(v string) bool {
	lower := strings.ToLower(strings.Trim(v, "."))
	switch lower {
	case "password", "passwd", "pass", "pwd", "secret", "token", "xxx", "xxxx", "xxxxx", "redacted", "masked", "hidden", "undefined", "null", "none", "string", "example", "changeme", "your-password", "required", "missing", "invalid":
		return true
	}
	return strings.Trim(lower, "x*.-_#") == ""
}

// dense tells whether a long run of letters and digits is random: it mixes
// letters of both cases with digits and repeats little.
func dense(s string) bool {
	upper, lower, digit := 0, 0, 0
	var count [256]int
	for i := 0; i < len(s); i++ {
		c := s[i]
		count[c]++
		switch {
		case c >= '0' && c <= '9':
			digit++
		case c >= 'A' && c <= 'Z':
			upper++
		case c >= 'a' && c <= 'z':
			lower++
		}
	}
	if upper < 4 || lower < 4 || digit < 4 || strings.Count(s, "/") > 2 || strings.Count(s, "-") > 3 || strings.Count(s, "_") > 3 {
		return false
	}
	entropy := 0.0
	for _, n := range count {
		if n > 0 {
			p := float64(n) / float64(len(s))
			entropy -= p * math.Log2(p)
		}
	}
	return entropy > 4.2 && !strings.Contains(s, "ABCDEFGH") && !strings.Contains(s, "abcdefgh")
}

// Mask replaces the credentials in a text by stars.
func Mask(s string) string {
	found := Find(s)
	if len(found) == 0 {
		return s
	}
	b := []byte(s)
	for _, r := range found {
		for i := r.From; i < r.To; i++ {
			b[i] = '*'
		}
	}
	return string(b)
}
