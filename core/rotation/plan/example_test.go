package plan_test

import (
	"context"
	"fmt"

	"fjell/core/rotation/plan"
)

func ExampleSolve() {
	problem, err := plan.Read([]byte(`{ "days": 6, "move_hours": [8],
		"paddocks": [
			{ "key": "Nedre", "area_ha": 2, "forage_mass_kg_dm_ha": 1900, "ceiling_kg_dm_ha": 5000, "peak_growth_kg_dm_ha_day": 55 },
			{ "key": "Øvre", "area_ha": 2, "forage_mass_kg_dm_ha": 2700, "ceiling_kg_dm_ha": 5000, "peak_growth_kg_dm_ha_day": 55, "rest_days": 24 } ],
		"mobs": [ { "key": "cows", "in": "Nedre", "demand_kg_dm_day": 420, "limits": { "entry_kg_dm_ha": 2600, "too_old_kg_dm_ha": 3100,
			"residual_kg_dm_ha": 1500, "rest_min_days": 18, "stay_max_days": 4, "utilisation": 1 } } ] }`))
	if err != nil {
		fmt.Println(err)
		return
	}
	answer, err := plan.Solve(context.Background(), &problem, nil)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, v := range answer.Visits {
		fmt.Printf("%s in %s until day %.2f\n", v.Mob, *v.Paddock, v.Leave)
	}
	fmt.Printf("costs %.0f kg, and no plan less than %.0f\n", answer.Cost.Total, answer.Bound)
	// Output:
	// cows in Nedre until day 2.33
	// cows in Øvre until day 6.00
	// costs -785 kg, and no plan less than -785
}
