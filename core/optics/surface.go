package optics

import "cloudburst/core/colour"

// Surface is the boundary between plastic and what surrounds it: the shares of light thrown back.
type Surface struct {
	Directional float64 // k1, a beam arriving from outside
	Diffuse     float64 // k1d, diffuse light arriving from outside
	Inside      float64 // k2, diffuse light arriving from inside
}

// The two surroundings of a bait. Fresnel's equations for plastic of index 1.50 in air and in water.
var (
	InAir   = Surface{0.04, 0.092, 0.596}
	InWater = Surface{0.0035, 0.030, 0.234}
)

// outside is what leaves one band of a stack with two surfaces, lit from the front.
type outside struct {
	t     float64 // through to the other side
	body  float64 // back, from inside the plastic
	gloss float64 // back, as a mirror image: seen as a highlight, not as colour
}

// faces follows light that enters through a face whose share of reflection is `first`.
//
// Saunderson's correction at both faces is wrong for clear plastic (it passes 0.60 of the light where 0.92 is
// right), because light that has not been scattered never meets the total reflection that k2 stands for. So
// the light inside is split: the cone that came in through a face and was not scattered yet, and the diffuse
// rest. Kubelka–Munk stays exact; only the faces see the difference.
func (s Surface) faces(r, rBack, t, cone, first float64) outside {
	down := (1 - first) / (1 - first*first*cone*cone)
	up := first * cone * down
	a := r*down + (t-cone)*up
	b := (t-cone)*down + rBack*up
	k2 := s.Inside
	d := (1-k2*r)*(1-k2*rBack) - k2*t*k2*t
	u := (a*(1-k2*rBack) + k2*t*b) / d
	v := (b*(1-k2*r) + k2*t*a) / d
	return outside{
		t:     (1-first)*cone*down + (1-k2)*v,
		body:  (1 - k2) * u,
		gloss: first + (1-first)*cone*up,
	}
}

// Piece is a stack with its two surfaces, ready to be looked at from the front.
type Piece struct {
	Through colour.Spectrum // held against a light
	Body    colour.Spectrum // what comes back from inside it; gloss is left out
	behind  colour.Spectrum // what it throws back, gloss and all, to a ground behind it
}

// Enclose gives a stack its surfaces.
func (s Surface) Enclose(st *Stack) Piece {
	var p Piece
	for b := range colour.Bands {
		front := s.faces(st.R[b], st.RBack[b], st.T[b], st.Cone[b], s.Directional)
		back := s.faces(st.RBack[b], st.R[b], st.T[b], st.Cone[b], s.Diffuse)
		p.Through[b], p.Body[b], p.behind[b] = front.t, front.body, back.body+back.gloss
	}
	return p
}

// Over is the light that comes back when the piece lies on a ground with air (or water) between: a bait on paper.
func (p *Piece) Over(ground *colour.Spectrum) colour.Spectrum {
	var out colour.Spectrum
	for b, g := range ground {
		out[b] = p.Body[b] + p.Through[b]*p.Through[b]*g/(1-g*p.behind[b])
	}
	return out
}

// Joined is the light that comes back from a stack that clings to its ground, with no gap. Gloss is left out.
func (s Surface) Joined(st *Stack, ground *colour.Spectrum) colour.Spectrum {
	var out colour.Spectrum
	for b := range out {
		g := ground[b]
		inside := st.R[b] + st.T[b]*st.T[b]*g/(1-st.RBack[b]*g)
		out[b] = (1 - s.Directional) * (1 - s.Inside) * inside / (1 - s.Inside*inside)
	}
	return out
}
