package plan_test

import (
	"fmt"

	"cloudburst/core/measure"
	"cloudburst/core/plan"
)

// Forty baits of 8 ml in a mold of six, shot with an injector of 110 ml.
func Example() {
	body := plan.Part{
		Name: "body", GeometricML: map[string]float64{"shad": 8}, KeptML: map[string]float64{"shad": 8}, SprueShare: 1,
		InjectorHotML: 110, PlugHotML: 7.5, PurgeHotML: 5, CupLossHotML: 7, LargestColdML: 470, MicrowaveColdML: 950,
		Recipe: plan.Recipe{PerColdML: measure.CupML, Drops: []plan.Drops{{Name: "brown", Drops: 8, DropML: 0.05}}},
	}
	p, err := plan.Make(&plan.Job{
		Shrink: 0.93, Partial: true, Molds: []plan.Mold{{
			Name: "shad", Cavities: 6, SprueHotML: 5.5, Count: 40,
		}}, Shots: []plan.Shot{{Name: "body", Parts: []plan.Part{body}}},
	}, measure.StandardKit())
	if err != nil {
		fmt.Println(err)
		return
	}
	for i, c := range p.Shots[0].Parts[0].Cooks {
		fmt.Printf("cook %d: %.0f ml for %d fills, %.0f drops\n", i+1, c.MeasuredColdML, c.Fills, c.Drops[0].Whole)
	}
	fmt.Printf(
		"%.0f ml in baits, %.0f ml to melt again, %.0f ml lost\n", p.Balance.BaitsML, p.Balance.LeftoversML(),
		p.Balance.LossesML(),
	)
	// Output:
	// cook 1: 410 ml for 7 fills, 14 drops
	// 298 ml in baits, 78 ml to melt again, 34 ml lost
}
