package instrument

// Cautions stand before the first input of an instrument whose measuring can hurt; the maker's procedure goes first.
const (
	CautionStall     = "Stall test: 5 s at most, brakes on, wheels chocked, nobody in front; let it cool before the next."
	CautionPressure  = "Oil at the tap is hot and under pressure: gauge and hose rated for it, eyes protected, hoses clear of what turns."
	CautionAir       = "Compressed air throws pistons out: low pressure, a rag over it, fingers and eyes away."
	CautionRunning   = "Engine runs: wheels off the ground or chocked, sleeves and hoses clear of what turns."
	CautionSpring    = "A spring under load jumps: eyes protected, pressed in a guide."
	CautionConverter = "A full converter is heavy and its edge is sharp: drained, gloves, on a bench."
	CautionUnder     = "Under a raised vehicle: locked lift or stands, shake test, chocks. Hot oil drips: eyes and hands covered."
	CautionCleaner   = "Cleaner away from hot parts and flames, skin covered; nothing chlorinated where welding may follow. What runs off is waste by local rules."
	CautionWaste     = "Used fluid is waste by local rules, never into drain or soil; oil with coolant in it apart from the rest. Skin covered."
	CautionTrial     = "A trial mass that comes off is a bullet: screwed or clamped for its force, covers on, nobody in line with it, slow at first."
	CautionLift      = "Wheels turn on the lift: axle at ride height on stands, wheels secured. Nobody beside or under the shaft; no more than 50 mph."
	CautionDrive     = "Reading while driving: a second person reads, on a road where the test is lawful and safe."
	CautionTurn      = "Turn the part by hand only: fingers clear of indicator and teeth."
)
