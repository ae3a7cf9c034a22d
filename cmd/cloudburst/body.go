package main

import (
	"errors"
	"fmt"
	"os"

	"cloudburst/core/mesh"
)

type bodyCmd struct {
	File     string  `arg:"" help:"An STL or OBJ file; - is standard input."`
	LengthMM float64 `name:"length" help:"Bring the body to this length, mm, along its longest side."`
	Out      string  `help:"Write it, mended and scaled, as a binary STL." placeholder:"FILE"`
}

// measured is what a body comes to.
type measured struct {
	Triangles int        `json:"triangles"`
	SizeMM    [3]float64 `json:"sizeMM"`
	VolumeML  float64    `json:"volumeML"`
	AreaMM2   float64    `json:"areaMM2"`
	Mended    string     `json:"mended,omitempty"`
}

// Run measures a body that somebody drew.
func (c *bodyCmd) Run() error {
	in, done, err := input(c.File)
	if err != nil {
		return err
	}
	defer done()
	m, mended, err := mesh.Read(in)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	from, to := m.Bounds()
	size := to.Minus(from)
	if c.LengthMM != 0 {
		if !(c.LengthMM > 0 && c.LengthMM <= 1000) {
			return errors.New("a body is brought to a length of more than 0 and up to 1000 mm")
		}
		by := c.LengthMM / max(size[0], size[1], size[2])
		m.Scale(by)
		size = size.Times(by)
	}
	if c.Out != "" {
		f, err := os.Create(c.Out)
		if err != nil {
			return err
		}
		if err := m.WriteSTL(f); err != nil {
			f.Close()
			return err
		}
		if err := f.Close(); err != nil {
			return err
		}
	}
	return print(measured{len(m.T), size, m.VolumeML(), m.AreaMM2(), mended})
}
