package cup

// State is the age of what is looked at.
type State string

// The states: raw in the jug, hot in the cup, fresh from the mold, rested for days.
const (
	Raw    State = "raw"
	Hot    State = "hot"
	Fresh  State = "fresh"
	Rested State = "rested"
)

// States lists them in the order in which they come.
func States() []State { return []State{Raw, Hot, Fresh, Rested} }

// Name says it in a maker's words.
func (s State) Name() string {
	return map[State]string{Raw: "raw milk", Hot: "hot", Fresh: "fresh", Rested: "rested"}[s]
}
