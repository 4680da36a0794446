package scan

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"runtime"
	"runtime/debug"
	"sync"
	"sync/atomic"

	"reed/internal/analyze"
	"reed/internal/lang"
	"reed/internal/model"
	"reed/internal/source"
)

// window is how many files may be done ahead of the one that is next to be
// handed on; it bounds memory on trees of any size.
const window = 512

// Run analyses the files of a tree in parallel and hands each result to take,
// in the order of tree.Entries. What was left out while reading is added to
// tree.Left. It stops at the first error of take or when ctx ends.
//
// With want.Discover, functions of the tree that log for their callers are
// found first; files that call one of them are then read once more.
func Run(ctx context.Context, tree *Tree, o Options, want analyze.Options, take func(*analyze.Result) error) error {
	if !want.Discover {
		return run(ctx, tree, tree.Entries, o, want, take)
	}
	return discover(ctx, tree, o, want, take)
}

// run analyses some of the files of a tree, in their order.
func run(ctx context.Context, tree *Tree, entries []Entry, o Options, want analyze.Options, take func(*analyze.Result) error) error {
	workers := o.Workers
	if workers <= 0 {
		workers = runtime.GOMAXPROCS(0)
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	n := len(entries)
	var next atomic.Int64
	results := make([]chan *analyze.Result, window)
	for i := range results {
		results[i] = make(chan *analyze.Result, 1)
	}
	ahead := make(chan struct{}, window)
	var wg sync.WaitGroup
	var left [16]atomic.Int64
	for range workers {
		wg.Add(1)
		go func() {
			defer wg.Done()
			w := newWorker(want, &left)
			for {
				select {
				case ahead <- struct{}{}:
				case <-ctx.Done():
					return
				}
				i := int(next.Add(1)) - 1
				if i >= n {
					return
				}
				results[i%window] <- w.read(&entries[i])
			}
		}()
	}
	var err error
	for i := range n {
		var r *analyze.Result
		select {
		case r = <-results[i%window]:
		case <-ctx.Done():
			err = ctx.Err()
		}
		if err == nil && r != nil {
			r.Index = entries[i].index
			err = take(r)
		}
		if err != nil {
			break
		}
		<-ahead
		if o.Progress != nil && i%64 == 0 {
			o.Progress(i, n)
		}
	}
	cancel()
	wg.Wait()
	tree.Left.Generated += int(left[leftGenerated].Load())
	tree.Left.Minified += int(left[leftMinified].Load())
	tree.Left.Binary += int(left[leftBinary].Load())
	tree.Left.Large += int(left[leftLarge].Load())
	tree.Left.Vendored += int(left[leftVendored].Load())
	return err
}

const (
	leftGenerated = iota
	leftMinified
	leftBinary
	leftVendored
	leftLarge
)

// tooLarge is the error of a file of so many bytes that nobody named.
type tooLarge int64

func (t tooLarge) Error() string {
	return fmt.Sprintf("left out: %d MiB is more than the %d MiB that a source file may have; name the file itself to have it read", int64(t)>>20, maxSize>>20)
}

// worker reads files with memory of its own that it uses again.
type worker struct {
	analyzer *analyze.Analyzer
	buf      []byte
	left     *[16]atomic.Int64
	want     analyze.Options
}

func newWorker(want analyze.Options, left *[16]atomic.Int64) *worker {
	return &worker{analyzer: analyze.New(want), left: left, want: want}
}

// keep is the size of a buffer in bytes that a worker holds on to.
const keep = 2 << 20

// read analyses one file; nil means that there is nothing to tell about it.
func (w *worker) read(e *Entry) (r *analyze.Result) {
	defer func() {
		if p := recover(); p != nil {
			r = &analyze.Result{File: e.Path, Module: e.Module, Diagnostics: []model.Diagnostic{{
				File: e.Path, Text: fmt.Sprintf("left out: Reed failed on this file, which is a mistake in Reed (%v in %s)", p, firstFrame(debug.Stack()))}}}
			w.analyzer = analyze.New(w.want)
		}
	}()
	text, err := w.load(e)
	if large := tooLarge(0); errors.As(err, &large) {
		w.left[leftLarge].Add(1)
		return &analyze.Result{File: e.Path, Module: e.Module, Diagnostics: []model.Diagnostic{{File: e.Path, Text: err.Error()}}}
	}
	if err != nil {
		return &analyze.Result{File: e.Path, Module: e.Module, Diagnostics: []model.Diagnostic{{File: e.Path, Text: "left out: it cannot be read (" + reason(err) + ")"}}}
	}
	spec := e.Spec
	if spec == nil {
		spec = lang.ByFirstLine(text)
	}
	spec, text = embedded(spec, e.Rel, text)
	switch {
	case spec == nil && text == nil: // a page without a script
		return nil
	case spec == nil:
		if e.Named {
			return &analyze.Result{File: e.Path, Module: e.Module, Diagnostics: []model.Diagnostic{{File: e.Path, Text: "left out: neither its name nor its first line tells a language that Reed reads"}}}
		}
		return nil
	case !e.Named && foreignText(spec, e.Rel, text):
		return nil
	case source.Binary(text):
		w.left[leftBinary].Add(1)
		if e.Named {
			return &analyze.Result{File: e.Path, Module: e.Module, Diagnostics: []model.Diagnostic{{File: e.Path, Text: "left out: it is a binary file"}}}
		}
		return nil
	case !e.Named && generatedText(text):
		w.left[leftGenerated].Add(1)
		return nil
	case !e.Named && spec.Features.Has(lang.ErrorFirst) && bytes.Contains(text[max(0, len(text)-400):], []byte("//# sourceMappingURL=")):
		w.left[leftGenerated].Add(1)
		return nil
	case !e.Named && spec.Features.Has(lang.ErrorFirst) && copied(path.Base(e.Rel), text):
		w.left[leftVendored].Add(1)
		return nil
	case !e.Named && spec.Features.Has(lang.ErrorFirst) && (minified(text) || mangled(text)):
		w.left[leftMinified].Add(1)
		return nil
	}
	w.analyzer.Unit = e.Unit
	r = w.analyzer.File(spec, e.Path, e.Rel, text, e.Module, e.Test)
	if cap(w.buf) > keep {
		w.buf = nil
		w.analyzer.Release()
	}
	return r
}

// embedded takes the code out of pages and notebooks; a nil text means that
// there is none.
func embedded(spec *lang.Spec, rel string, text []byte) (*lang.Spec, []byte) {
	switch ext := path.Ext(rel); {
	case lang.Pages[ext]:
		kept, typed := source.Scripts(text)
		if kept == nil {
			return nil, nil
		}
		if typed {
			return &lang.TypeScript, kept
		}
		return spec, kept
	case lang.Notebooks[ext]:
		code, language := source.Notebook(text)
		return lang.ByName(language), code
	case ext == ".xml" && !pipeline(text):
		return nil, nil
	}
	return spec, text
}

// logStep is what a log step of a pipeline contains at least.
var logSteps = [][]byte{[]byte("<log"), []byte(":log"), []byte("<Log"), []byte(":Log"), []byte("<echo"), []byte("<trace")}

// pipeline tells whether XML may hold log steps; most of it does not.
func pipeline(text []byte) bool {
	for _, step := range logSteps {
		if bytes.Contains(text, step) {
			return true
		}
	}
	return false
}

// load reads a file into the worker's buffer and decodes it.
func (w *worker) load(e *Entry) ([]byte, error) {
	f, err := os.Open(e.Path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return nil, err
	}
	if info.Size() > maxSize && !e.Named {
		return nil, tooLarge(info.Size())
	}
	size := int(info.Size())
	if size+1 > cap(w.buf) {
		w.buf = make([]byte, 0, size+size/4+512)
	}
	buf := w.buf[:0]
	for {
		n, err := f.Read(buf[len(buf):cap(buf)])
		buf = buf[:len(buf)+n]
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, err
		}
		if len(buf) == cap(buf) {
			buf = append(buf, 0)[:len(buf)]
		}
		if n == 0 && len(buf) >= size {
			break
		}
	}
	w.buf = buf
	return source.Decode(buf), nil
}

// firstFrame names the function of Reed that panicked.
func firstFrame(stack []byte) string {
	for _, line := range bytes.Split(stack, []byte("\n")) {
		if bytes.HasPrefix(line, []byte("reed/internal/")) && !bytes.Contains(line, []byte("scan.(*worker).read")) {
			if at := bytes.LastIndexByte(line, '('); at > 0 {
				line = line[:at]
			}
			return string(line)
		}
	}
	return "an unknown place"
}
