package phrase

import "strings"

// irregular are words whose stem no rule finds. What must stay apart (tire and tired, back and backing off) stands here too.
var irregular = map[string]string{
	"am": "be", "is": "be", "are": "be", "was": "be", "were": "be", "been": "be", "being": "be",
	"has": "have", "had": "have", "having": "have", "does": "do", "did": "do", "done": "do", "doing": "do",
	"goes": "go", "went": "go", "gone": "go", "going": "go", "got": "get", "gets": "get", "getting": "get", "gotten": "get",
	"came": "come", "comes": "come", "coming": "come", "took": "take", "taken": "take", "takes": "take", "taking": "take",
	"drove": "drive", "driven": "drive", "drives": "drives", "driving": "driving", "rode": "ride", "ridden": "ride",
	"felt": "feel", "heard": "hear", "held": "hold", "kept": "keep", "left": "leave", "let": "let", "letting": "let", "lost": "lose", "losing": "lose",
	"made": "make", "making": "make", "met": "meet", "put": "put", "putting": "put", "ran": "run", "running": "run", "said": "say", "says": "say",
	"saw": "see", "seen": "see", "sent": "send", "shook": "shake", "shaken": "shake", "stuck": "stuck", "sticks": "stick", "sticking": "stick",
	"thought": "think", "told": "tell", "broke": "break", "broken": "broken", "bought": "buy", "began": "begin", "begun": "begin",
	"bit": "bit", "bites": "bite", "biting": "bite", "blew": "blow", "blown": "blow", "caught": "catch", "chose": "choose", "fell": "fall", "fallen": "fall",
	"found": "find", "gave": "give", "given": "give", "gives": "give", "giving": "give", "ground": "ground", "hung": "hang", "hit": "hit", "hitting": "hit", "knew": "know", "lay": "lie", "lit": "light",
	"leapt": "leap", "burnt": "burn", "burned": "burn", "smelt": "smell", "spilt": "spill", "spun": "spin", "stood": "stand", "swore": "swear", "tore": "tear", "wore": "wear", "worn": "worn",
	"wrote": "write", "sprang": "spring", "sprung": "spring", "sank": "sink", "lept": "leap", "slid": "slide", "slung": "sling", "stank": "stink", "stunk": "stink", "swung": "swing",
	"his": "his", "its": "its", "this": "this", "yes": "yes", "us": "us", "less": "less", "gas": "gas", "always": "always", "sometimes": "sometimes", "whereas": "whereas", "news": "news", "previous": "previous",
	"perhaps": "perhaps", "towards": "toward", "backwards": "backward", "forwards": "forward", "afterwards": "afterward", "upwards": "upward", "bus": "bus", "plus": "plus", "across": "across", "unless": "unless",
	"as": "as", "synchros": "synchro", "does-not": "do", "times": "times", "seconds": "secs", "secs": "secs", "sec": "secs", "brakes": "brake", "braking": "braking", "gears": "gear", "series": "series",
	"nothing": "nothing", "something": "something", "anything": "anything", "everything": "everything", "during": "during", "morning": "morning", "mornings": "morning", "evening": "evening", "evenings": "evening",
	"spring": "spring", "springs": "spring", "bring": "bring", "king": "king", "thing": "thing", "things": "thing", "string": "string", "ring": "ring", "rings": "ring", "wing": "wing", "sing": "sing", "singing": "sing",
	"bearing": "bearing", "bearings": "bearing", "wiring": "wiring", "bushing": "bushing", "bushings": "bushing", "housing": "housing", "casing": "casing", "lining": "lining", "backing": "backing", "climbing": "climb", "warning": "warning", "ceiling": "ceiling",
	"steering": "steering", "parking": "parking", "bedding": "bedding", "timing": "timing", "coupling": "coupling", "reading": "reading", "setting": "setting", "feeling": "feel", "meeting": "meeting",
	"need": "need", "needs": "need", "needed": "need", "speed": "speed", "speeds": "speed", "feed": "feed", "red": "red", "indeed": "indeed", "bed": "bed", "shed": "shed", "used": "used", "tired": "tired", "hundred": "hundred", "hundreds": "hundred",
	"hardly": "hardly", "only": "only", "early": "early", "really": "really", "family": "family", "july": "july", "reply": "reply", "fly": "fly", "supply": "supply", "apply": "apply", "nearly": "nearly", "lately": "lately", "friendly": "friendly", "lovely": "lovely", "assembly": "assembly", "barely": "barely", "likely": "likely", "ugly": "ugly", "early-on": "early", "ply": "ply", "fully": "fully", "badly": "bad",
	"worse": "worse", "worst": "worse", "better": "better", "best": "best", "oily": "oily", "wobbly": "wobbly", "jolly": "jolly", "sly": "sly", "lies": "lie", "dies": "die", "dying": "die", "lying": "lie", "tyre": "tire", "tyres": "tire", "tires": "tire", "tire": "tire",
	"men": "man", "women": "woman", "wives": "wife", "lives": "life", "leaves": "leave", "feet": "foot", "teeth": "teeth", "lever": "lever", "levers": "lever", "shudder": "shudder", "judder": "judder", "clutches": "clutch",
	"louder": "loud", "loudest": "loud", "quieter": "quiet", "smoother": "smooth", "rougher": "rough", "harder": "hard", "hardest": "hard", "slower": "slow", "slowest": "slow", "later": "later", "earlier": "earlier", "faster": "fast", "warmer": "warm", "hotter": "hot", "colder": "cold", "stiffer": "stiff", "heavier": "heavy", "softer": "soft", "higher": "high", "lower": "lower", "weaker": "weak", "gentler": "gentle", "harsher": "harsh", "firmer": "firm", "sharper": "sharp", "nicer": "nice", "longer": "long",
}

// Stem brings the forms of a word to one: -s -es -ies -ied -ed -ing -ly, a final e and a doubled consonant go. It need not be
// the dictionary's form, only the same for the lexicon and the text.
func Stem(w string) string {
	if s, ok := irregular[w]; ok {
		w = s
		if len(w) > 3 {
			w = strings.TrimSuffix(w, "e")
		}
		return w
	}
	if len(w) < 4 || isDigit(w[0]) {
		return strings.TrimSuffix(w, "'")
	}
	cut := func(tail string, least int) bool {
		s, ok := strings.CutSuffix(w, tail)
		if !ok || len(s) < least || !strings.ContainsAny(s, "aeiouy") {
			return false
		}
		w = s
		return true
	}
	switch {
	case cut("ies", 2), cut("ied", 2):
		w += "y"
	case strings.HasSuffix(w, "ss"), strings.HasSuffix(w, "us"):
	case cut("sses", 1):
		w += "ss"
	case cut("ches", 2):
		w += "ch"
	case cut("shes", 2):
		w += "sh"
	case cut("xes", 2):
		w += "x"
	case cut("s", 3):
	}
	if !cut("ing", 3) && !cut("ed", 3) {
		cut("ly", 3)
	} else if n := len(w); n > 3 && w[n-1] == w[n-2] && !strings.ContainsRune("lsz", rune(w[n-1])) {
		w = w[:n-1]
	}
	if len(w) > 3 {
		w = strings.TrimSuffix(w, "e")
	}
	return w
}
