package pumps

import (
	"fmt"
	"log/slog"
)

// Pump is one pump with its valves.
type Pump struct {
	ID     string
	Valves []*Valve
	Token  string
}

// Start starts the pump.
func (p *Pump) Start(rate int) {
	slog.Info(fmt.Sprintf("starting pump %s at %d l/s", p.ID, rate))
	if err := p.send("START"); err != nil {
		slog.Error("pump did not start", "pump", p.ID)
	}
	slog.Info("pump " + p.ID + " runs")
}

// Stop stops the pump.
func (p *Pump) Stop() {
	if err := p.send("STOP"); err != nil {
		slog.Debug("pump did not stop", "pump", p.ID, "err", err)
	}
	fmt.Println("stopped", p.ID)
}

// Login signs the pump in at the relay.
func (p *Pump) Login(relay string, passphrase string) {
	slog.Info("logging in", "relay", relay, "passphrase", passphrase)
	slog.Warn("Connected to relay", "relay", relay)
}

// Drain empties the basin.
func (p *Pump) Drain() {
	for _, v := range p.Valves {
		if err := v.Line.(interface{ Flush() error }).Flush(); err != nil {
			continue
		}
	}
	slog.Error("basin is not empty")
}

func (p *Pump) send(order string) error { return nil }
