package picture

import "cloudburst/core/bait"

// BaitPlan is a shape laid out on a picture: what lies under each pixel. It hangs on nothing that a tap changes, so it
// is worth keeping.
type BaitPlan struct {
	Shape         bait.Shape
	View          bait.View
	Width, Height int
	PxPerMM       float64
	mostMM        float64
	columns       []bait.Column // by the corners of pixels
	cells         []planCell    // of the pixels that the bait covers
	at            []int32       // by pixel: its cell, or -1
}

type planCell struct {
	pixel, column int32
	section       int16
	body          bool
	u, mm, round  float32
	from, to      float32
	cover         float32 // share of the pixel that the bait covers
}

func (c *planCell) through() bait.Through {
	return bait.Through{MM: float64(c.mm), Round: float64(c.round), Body: c.body, From: float64(c.from), To: float64(c.to), Section: int(c.section)}
}

// marginMM is left free about a bait.
const marginMM = 3

// PlanBait lays a shape out, rolled to a view. The scale is the same for every view.
func PlanBait(s bait.Shape, view bait.View, width, height int) *BaitPlan {
	p := &BaitPlan{
		Shape: s, View: view, Width: width, Height: height, at: make([]int32, width*height), columns: make([]bait.Column, width+1),
		PxPerMM: min(float64(width)/(s.ToX-s.FromX+2*marginMM), float64(height)/(2*s.HalfY+2*marginMM)),
	}
	// Corners of the pixels are asked, so that an edge is as soft as the share of the pixel that it covers.
	corners := [2][]bait.Through{make([]bait.Through, height+1), make([]bait.Through, height+1)}
	type span struct{ from, to int }
	edge := func(px int, into []bait.Through) span {
		col := &p.columns[px]
		x, _ := p.Place(float64(px), 0)
		s.Column(x, view, col)
		clear(into)
		low, high, ok := col.Reach()
		if !ok {
			return span{height, 0}
		}
		rows := span{max(0, int(float64(height)/2-high*p.PxPerMM)), min(height, int(float64(height)/2-low*p.PxPerMM)+1)}
		for py := rows.from; py <= rows.to; py++ {
			_, u := p.Place(0, float64(py))
			into[py] = col.At(u)
		}
		return rows
	}
	for i := range p.at {
		p.at[i] = -1
	}
	p.cells = make([]planCell, 0, width*height/3)
	was := edge(0, corners[0])
	for px := range width {
		now := edge(px+1, corners[1])
		for py := max(0, min(was.from, now.from)-1); py < min(height, max(was.to, now.to)+1); py++ {
			pixel := int32(py*width + px)
			covered, best := 0, -1
			var thick bait.Through
			for k := 3; k >= 0; k-- {
				if t := corners[k/2][py+k%2]; t.MM > 0 {
					covered++
					thick, best = t, k
				}
			}
			if covered == 0 {
				continue
			}
			_, u := p.Place(0, float64(py+best%2))
			p.at[pixel] = int32(len(p.cells))
			p.mostMM = max(p.mostMM, thick.MM)
			p.cells = append(p.cells, planCell{
				pixel: pixel, column: int32(px + best/2), section: int16(thick.Section), body: thick.Body, u: float32(u),
				mm: float32(thick.MM), round: float32(thick.Round), from: float32(thick.From), to: float32(thick.To), cover: float32(covered) / 4,
			})
		}
		corners[0], corners[1], was = corners[1], corners[0], now
	}
	return p
}

// Place is where a point of the picture, in pixels, lies on the bait: x from the nose, u up the screen, mm.
func (p *BaitPlan) Place(px, py float64) (x, u float64) {
	x0 := (float64(p.Width)/p.PxPerMM - (p.Shape.ToX - p.Shape.FromX)) / 2
	return px/p.PxPerMM - x0 + p.Shape.FromX, (float64(p.Height)/2 - py) / p.PxPerMM
}

// under is the cell under a point of the picture, in pixels; nil beside the bait.
func (p *BaitPlan) under(x, y float64) *planCell {
	px, py := int(x), int(y)
	if px < 0 || py < 0 || px >= p.Width || py >= p.Height {
		return nil
	}
	if i := p.at[py*p.Width+px]; i >= 0 {
		return &p.cells[i]
	}
	return nil
}
