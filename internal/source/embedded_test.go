package source

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestScripts(t *testing.T) {
	page := "<p>it's</p>\n<script lang=\"ts\">\nlog(1)\n</script>\n<SCRIPT type='text/template'>no()</SCRIPT>\n<script>log(2)"
	kept, typed := Scripts([]byte(page))
	assert.Equal(t, "           \n                  \nlog(1)\n;        \n                                          \n        log(2)", string(kept))
	assert.True(t, typed)
	assert.Len(t, kept, len(page))
	kept, _ = Scripts([]byte("<!-- <script> is named --><script>f()</script>"))
	assert.Equal(t, "f()", strings.Trim(string(kept), " ;"))
	kept, _ = Scripts([]byte("<p>no script</p>"))
	assert.Nil(t, kept)
}

func TestNotebook(t *testing.T) {
	book := "{\"cells\": [\n{\n\"cell_type\": \"markdown\",\n\"source\": [\n\"print(0)\"\n]},\n{\n\"cell_type\": \"code\",\n\"source\": [\n\"%matplotlib inline\\n\",\n\"for g in gauges:\\n\",\n\"    print(\\\"gauge\\\", g)\"\n]}],\n\"metadata\": {\"language_info\": {\"name\": \"python\"}}}\n"
	code, language := Notebook([]byte(book))
	assert.Equal(t, "python", language)
	assert.Equal(t, "\n\n\n\n\n\n\n\n\n\nfor g in gauges:\n    print(\"gauge\", g)\n\n\n", string(code))
	code, _ = Notebook([]byte("[1]"))
	assert.Nil(t, code)
}
