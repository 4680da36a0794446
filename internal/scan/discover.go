package scan

import (
	"bufio"
	"context"
	"encoding/gob"
	"fmt"
	"io"
	"os"
	"slices"

	"reed/internal/analyze"
	"reed/internal/calls"
)

// discover reads the whole tree, then again the files that call functions of
// the tree which log for their callers, and hands the results on in order.
func discover(ctx context.Context, tree *Tree, o Options, want analyze.Options, take func(*analyze.Result) error) error {
	s := &store{budget: held}
	defer s.close()
	var found []calls.Wrapper
	called := make([][]uint32, len(tree.Entries))
	keep := func(r *analyze.Result) error {
		found = append(found, r.Wrappers...)
		called[r.Index] = r.Called
		r.Wrappers, r.Called = nil, nil
		return s.put(r)
	}
	s.begin()
	if err := run(ctx, tree, tree.Entries, o, want, keep); err != nil {
		return err
	}
	left := tree.Left
	for names := hashes(found); len(names) > 0; {
		var again []Entry
		for i := range tree.Entries {
			if calls.CallsAny(called[i], names) {
				again = append(again, tree.Entries[i])
			}
		}
		before := len(found)
		want.Wrappers = calls.NewWrappers(slices.Clone(found))
		quiet := o
		quiet.Progress = nil
		s.begin()
		err := run(ctx, tree, again, quiet, want, func(r *analyze.Result) error {
			found = added(found, r.Wrappers)
			r.Wrappers, r.Called = nil, nil
			return s.put(r)
		})
		if err != nil {
			return err
		}
		names = hashes(found[before:]) // wrappers of wrappers
	}
	tree.Left = left // what was left out is left out once
	tree.Wrappers = found
	return s.each(take)
}

// added appends the wrappers that are not yet known.
func added(known, more []calls.Wrapper) []calls.Wrapper {
	for _, m := range more {
		if !slices.ContainsFunc(known, func(k calls.Wrapper) bool { return k.File == m.File && k.Line == m.Line && k.Name == m.Name }) {
			known = append(known, m)
		}
	}
	return known
}

func hashes(list []calls.Wrapper) []uint32 {
	var all []uint32
	for i := range list {
		all = append(all, calls.NameHash([]byte(list[i].Name)))
	}
	slices.Sort(all)
	return slices.Compact(all)
}

// held is how many bytes of results stay in memory; what is more goes into a
// temporary file.
const held = 48 << 20

// store keeps results by the place of their file until all are known.
type store struct {
	budget  int
	kept    []*analyze.Result
	spilt   []int // which stream holds a result that is not kept, from 1
	streams []*stream
}

// stream is a temporary file of results, in the order in which they came.
type stream struct {
	file  *os.File
	out   *bufio.Writer
	enc   *gob.Encoder
	dec   *gob.Decoder
	index []int // places of the results
	read  int   // how many have been read again
}

// weight estimates the memory of a result in bytes.
func weight(r *analyze.Result) int {
	return 400 + 900*len(r.Calls) + 1300*len(r.Findings) + 200*len(r.Diagnostics) + 300*len(r.Parts)
}

// begin opens the stream of one pass, in which results come in the order of
// their places.
func (s *store) begin() { s.streams = append(s.streams, &stream{}) }

func (s *store) put(r *analyze.Result) error {
	for len(s.kept) <= r.Index {
		s.kept = append(s.kept, nil)
		s.spilt = append(s.spilt, 0)
	}
	if old := s.kept[r.Index]; old != nil {
		s.budget += weight(old)
	}
	s.spilt[r.Index] = 0
	if w := weight(r); w <= s.budget {
		s.budget -= w
		s.kept[r.Index] = r
		return nil
	}
	s.kept[r.Index] = nil
	s.spilt[r.Index] = len(s.streams)
	return s.streams[len(s.streams)-1].write(r)
}

func (t *stream) write(r *analyze.Result) error {
	if t.file == nil {
		f, err := os.CreateTemp("", "reed-*")
		if err != nil {
			return err
		}
		_ = os.Remove(f.Name()) // it lives until it is closed, where the system allows that
		t.file, t.out = f, bufio.NewWriterSize(f, 1<<16)
		t.enc = gob.NewEncoder(t.out)
	}
	t.index = append(t.index, r.Index)
	return t.enc.Encode(r)
}

// next reads results up to the one of a place; those between were replaced.
func (t *stream) next(index int) (*analyze.Result, error) {
	if t.dec == nil {
		if err := t.out.Flush(); err != nil {
			return nil, err
		}
		if _, err := t.file.Seek(0, io.SeekStart); err != nil {
			return nil, err
		}
		t.dec = gob.NewDecoder(bufio.NewReaderSize(t.file, 1<<16))
	}
	for t.read < len(t.index) {
		r := &analyze.Result{}
		if err := t.dec.Decode(r); err != nil {
			return nil, err
		}
		t.read++
		if t.index[t.read-1] == index {
			return r, nil
		}
	}
	return nil, fmt.Errorf("result %d is not in its temporary file", index)
}

// each hands the results on in order and lets go of them.
func (s *store) each(take func(*analyze.Result) error) error {
	for i := range s.kept {
		r := s.kept[i]
		s.kept[i] = nil
		if r == nil && s.spilt[i] > 0 {
			var err error
			if r, err = s.streams[s.spilt[i]-1].next(i); err != nil {
				return err
			}
		}
		if r == nil {
			continue
		}
		if err := take(r); err != nil {
			return err
		}
	}
	return nil
}

func (s *store) close() {
	for _, t := range s.streams {
		if t.file != nil {
			_ = t.file.Close()
			_ = os.Remove(t.file.Name())
		}
	}
}
