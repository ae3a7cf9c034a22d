package match

import (
	"context"
	"math"

	"cloudburst/core/cup"
	"cloudburst/core/measure"
)

// EveryTriple is the exhaustive search alone, with the same rounding: the ΔE00 of its best, by the frozen form.
func EveryTriple(w *Wish, shelf cup.Shelf, kit measure.Kit) (float64, error) {
	p, err := newProblem(w, shelf, kit)
	if err != nil {
		return 0, err
	}
	all := newPool()
	if err := p.everyTriple(context.Background(), all, nil); err != nil {
		return 0, err
	}
	list, err := p.ranked(context.Background(), w, all)
	return list[0].DeltaE00, err
}

// Problem is a wish in numbers, for those that try other ways to solve it.
type Problem struct {
	p *problem
	s *solver
}

func NewProblem(w *Wish, shelf cup.Shelf, kit measure.Kit) (*Problem, error) {
	p, err := newProblem(w, shelf, kit)
	if err != nil {
		return nil, err
	}
	return &Problem{p, p.solver()}, nil
}

func (p *Problem) Most(bottle int) float64 { return p.p.bottles[bottle].most }

// Off is the root mean square ΔE00 of doses of all bottles, by the frozen form.
func (p *Problem) Off(x []float64) float64 {
	return math.Sqrt(p.s.cost(p.p.all, x) / p.p.weights)
}

// LongLayers is the search over parts with far more of everything.
func LongLayers(w *LayersWish, shelf cup.Shelf, kit measure.Kit, best, times int) (*LayersResult, error) {
	return layers(context.Background(), w, shelf, kit, nil, breadth{best, times})
}

// ByRank ranks beside an exact target.
var ByRank = (&problem{}).byRank
