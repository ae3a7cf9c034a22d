package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"

	"cloudburst/stand/maker"
)

type simulateCmd struct {
	Targets    int     `help:"Hidden colours that are sought." default:"200"`
	Noise      float64 `help:"Noise of a reading, on each axis of Lab." default:"0.7"`
	Reads      int     `help:"How often each of the three looks is read, at another spot each time; 0 for as often as the program says it is worth." default:"0"`
	Offset     float64 `help:"How far the reading device is off, on each axis of Lab: one standard deviation." default:"0"`
	Mismatch   bool    `help:"Bottles of another shape, drops that scatter by a tenth, other surfaces."`
	Calibrated bool    `help:"Every bottle was measured by chips beforehand."`
	NoLearning bool    `help:"The bottles stay as their labels have them."`
	Seed       uint64  `help:"Seed." default:"1"`
	JSON       bool    `help:"As JSON."`
}

func (c *simulateCmd) Run(ctx context.Context) error {
	if c.Targets < 1 || c.Targets > 10_000 {
		return fmt.Errorf("from 1 to 10,000 targets are tried")
	}
	if c.Reads < 0 || c.Reads > 20 {
		return fmt.Errorf("a look is read 1 to 20 times, or 0 for as often as is worth it")
	}
	t := maker.Trial{
		Truth:   maker.Truth{Strength: 0.3, Hue: 0.1, Noise: c.Noise, Offset: c.Offset, Mismatch: c.Mismatch},
		Targets: c.Targets, Learning: !c.NoLearning, Calibrated: c.Calibrated, Reads: c.Reads, Seed: c.Seed,
	}
	out, err := t.Run(ctx)
	if err != nil {
		return err
	}
	if c.JSON {
		return json.NewEncoder(os.Stdout).Encode(out)
	}
	fmt.Printf("%d colours: within ΔE00 %.0f after %.0f test batches in the median; with the first %.0f %%, within two %.0f %%, within three %.0f %%.\n",
		out.Targets, maker.Near, out.Median, 100*out.Within1, 100*out.Within2, 100*out.Within3)
	fmt.Printf(
		"The first batch lies ΔE00 %.1f off in the median. The true colour lies in %.0f %% of the ranges that are to hold 80 %%. %.0f s.\n",
		out.First, 100*out.Covered80, out.Seconds,
	)
	return nil
}
