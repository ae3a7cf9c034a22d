package picture

import (
	"cloudburst/core/colour"
	"cloudburst/core/mix"
)

// Light is what is drawn at a pixel, before it is rounded to steps of a screen.
func (p *BaitPicture) Light(at mix.Condition) func(x, y int) colour.RGB {
	var wide int
	var pix []colour.RGB
	p.draw(at, func(c *canvas) { wide, pix = c.wide, append(pix, c.pix...) })
	return func(x, y int) colour.RGB { return pix[y*wide+x] }
}

// Cell is what a test asks of a plan's cell.
type Cell struct{ X, Y, MM float64 }

// Cells of a plan.
func (p *BaitPlan) Cells() []Cell {
	var out []Cell
	for i := range p.cells {
		c := &p.cells[i]
		out = append(out, Cell{float64(c.x), float64(c.y), float64(c.mm)})
	}
	return out
}

// Sharp compares what is drawn with the stack itself, at places where nothing has run together and one stretch is all
// there is.
func (p *BaitPicture) Sharp(at mix.Condition, tell func(got, want colour.RGB)) {
	l := Lay(p.BaitPlan, &p.Structure, p.Split, 0)
	light := p.Light(at)
	for i := 0; i < len(p.cells); i += 3 {
		c := &p.cells[i]
		if c.cover < 1 || c.more > 0 {
			continue
		}
		var stack []mix.Slice
		pure := true
		for _, r := range l.runs(p.BaitPlan, i, 0) {
			pure = pure && r.share == 0
			stack = append(stack, mix.Slice{Mix: p.Cups[l.parts[r.part].Cup], MM: float64(r.mm)})
		}
		if pure {
			tell(light(int(c.pixel)%p.Width, int(c.pixel)/p.Width), mix.StackColour(stack, at).Shown())
		}
	}
}
