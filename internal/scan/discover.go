package scan

import (
	"bytes"
	"context"
	"encoding/gob"
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
	budget int
	kept   []*analyze.Result
	spilt  []span // places in the temporary file, for results that are not kept
	file   *os.File
	size   int64
}

type span struct{ from, n int64 }

// weight estimates the memory of a result in bytes.
func weight(r *analyze.Result) int {
	return 400 + 900*len(r.Calls) + 1300*len(r.Findings) + 200*len(r.Diagnostics) + 300*len(r.Parts)
}

func (s *store) put(r *analyze.Result) error {
	for len(s.kept) <= r.Index {
		s.kept = append(s.kept, nil)
		s.spilt = append(s.spilt, span{})
	}
	if old := s.kept[r.Index]; old != nil {
		s.budget += weight(old)
	}
	if w := weight(r); w <= s.budget {
		s.budget -= w
		s.kept[r.Index] = r
		return nil
	}
	s.kept[r.Index] = nil
	return s.spill(r)
}

func (s *store) spill(r *analyze.Result) error {
	if s.file == nil {
		f, err := os.CreateTemp("", "reed-*")
		if err != nil {
			return err
		}
		s.file = f
	}
	var b bytes.Buffer
	if err := gob.NewEncoder(&b).Encode(r); err != nil {
		return err
	}
	if _, err := s.file.WriteAt(b.Bytes(), s.size); err != nil {
		return err
	}
	s.spilt[r.Index] = span{s.size, int64(b.Len())}
	s.size += int64(b.Len())
	return nil
}

// each hands the results on in order and lets go of them.
func (s *store) each(take func(*analyze.Result) error) error {
	for i := range s.kept {
		r := s.kept[i]
		s.kept[i] = nil
		if r == nil && s.spilt[i].n > 0 {
			data := make([]byte, s.spilt[i].n)
			if _, err := s.file.ReadAt(data, s.spilt[i].from); err != nil {
				return err
			}
			r = &analyze.Result{}
			if err := gob.NewDecoder(bytes.NewReader(data)).Decode(r); err != nil {
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
	if s.file != nil {
		_ = s.file.Close()
		_ = os.Remove(s.file.Name())
	}
}
