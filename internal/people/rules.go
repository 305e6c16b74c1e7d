package people

import (
	"slices"
	"strings"
)

// Role is what somebody does in the shop.
type Role string

// Roles.
const (
	Owner         Role = "owner"
	Diagnostician Role = "diagnostician"
	Apprentice    Role = "apprentice"
	FrontDesk     Role = "front-desk"
)

// Roles are all of them.
var Roles = []Role{Owner, Diagnostician, Apprentice, FrontDesk}

func joined[T ~string](list []T) string {
	out := make([]string, len(list))
	for i, t := range list {
		out[i] = string(t)
	}
	return strings.Join(out, ", ")
}

// Right is what an operation asks of whoever does it.
type Right string

// Rights, each with what it covers.
const (
	Anyone  Right = "anyone"  // no sign-in: health, signing in, the customer's page
	Oneself Right = "oneself" // whoever is signed in, for what is theirs
	Look    Right = "look"    // see cases, units, instruments, the week
	TakeIn  Right = "take-in" // open a case, note what the customer says
	Work    Right = "work"    // readings, checks, measurements, bench, pictures, recordings
	Offer   Right = "offer"   // estimates and private links
	Decide  Right = "decide"  // note a decision; an apprentice's waits for a countersign
	Sign    Right = "sign"    // issue records, close, reopen, countersign
	Plan    Right = "plan"    // jobs and the week
	Teach   Right = "teach"   // the shop's own sheets, words, gauges
	Shop    Right = "shop"    // settings, prices, workshop
	Manage  Right = "manage"  // people, devices, audit trail, keys, backup, privacy
)

// roleRights is what each may do. Oneself and Look belong to everybody.
var roleRights = map[Role][]Right{
	Owner:         {Oneself, Look, TakeIn, Work, Offer, Decide, Sign, Plan, Teach, Shop, Manage},
	Diagnostician: {Oneself, Look, TakeIn, Work, Offer, Decide, Sign, Plan, Teach},
	Apprentice:    {Oneself, Look, TakeIn, Work, Decide},
	FrontDesk:     {Oneself, Look, TakeIn, Offer, Decide, Plan},
}

// strong are the rights that take more than a PIN, or than a passphrase at a strange device: see Actor.May.
var strong = []Right{Shop, Manage}

// Rights are those of a role.
func (r Role) Rights() []Right { return slices.Clone(roleRights[r]) }

// needs is the right that each operation of the contract asks for, by its name there. One that is missing is refused to everybody.
var needs = map[Right][]string{
	Anyone: {"getHealth", "getSession", "signIn", "signOut", "setUpShop", "startPasskey", "getApproval", "approve", "getShopKey"},
	Oneself: {"setPassphrase", "setPIN", "startNewPasskey", "addPasskey", "removePasskey", "listSessions", "endSession", "admitDevice",
		"listenToEvents", "getSettings", "readNumber"},
	Look: {"listGauges", "listCases", "getCase", "getRanking", "listVehicles", "listVisits", "exportCase", "getCalendar", "explainSuspect", "whatIf", "getWords", "readWords",
		"getInterview", "getPlan", "listOwnWords", "exportWords", "find", "lookAtMove", "getMoves", "listFindings", "listChecks", "getCheck", "readLab", "listInstruments", "getInstrument", "calculate",
		"listMeasurements", "listRecordings", "getRecording", "getTrace", "getSpectrum", "getLive", "listLiveFailures", "getOrders", "getShifts", "compareShifts", "getRecordingFile", "getVehicleSheet", "listOptions", "weighOptions", "getPhoto",
		"getRecordPage", "getRecordPDF", "getRecordFile", "draftRecord", "verifyRecord", "listUnits", "checkSheet", "getUnit", "getStack", "getBench", "getBuild", "getWhy", "getOwnSheet", "getWorkshop",
		"getJob", "getJobSheet", "getJobParts", "getWeek", "getWeekCalendar", "getPower", "compareFaults", "findGear", "getSheet", "getBlankSheet", "findKnowledge", "getKnowledge", "listWordless",
		"getPrices", "listPriceItems", "exportPrices", "listSchemes", "listDrafts", "getDraft", "listNumbers", "compareVersions", "getCaseAudit", "getBackup"},
	TakeIn: {"takeIn", "importCase", "makeSample", "removeSample", "chooseWords", "answerQuestion", "updateCase", "linkCase", "setFollowUp"},
	Work:   {"addReadings", "hearCalled", "putCodes", "moveCase", "markCheck", "measure", "putMeasured", "putCalculated", "withdrawMeasurement", "noteBench", "addPhoto", "withdrawPhoto", "bringRecording", "changeRecording", "removeRecording", "rereadRecording", "joinRecording", "markRecording", "unmarkRecording", "connectLive", "disconnectLive", "watchLive", "driveLive", "recordLive", "keepLive", "dropLive", "markLive", "readLiveCodes", "noteLiveCodes", "clearLiveCodes", "noteOrders", "noteShifts", "proveShifts", "setProof"},
	Offer:  {"makeEstimate"},
	Decide: {"decide"},
	Sign:   {"issueRecord", "closeCase", "reopenCase", "countersign", "offerAdmission"},
	Plan:   {"settleJob"},
	Teach:  {"teachWord", "forgetWord", "importWords", "saveSheet", "startDraft", "changeDraft", "removeDraft", "proposeSchemes", "saveDraft", "pasteTable", "takeOffer", "sayNumber", "bringInSheets", "mergeSheet", "putVehicleSheet", "putGauges"},
	Shop:   {"putSettings", "putPrices", "importPrices", "putWorkshop"},
	Manage: {"getTabletLink", "listPeople", "savePerson", "changePerson", "resetPassphrase", "listDevices", "removeDevice", "rotateShopKey", "planBackup", "makeBackup", "exportEverything", "getPrivacy", "setPrivacy", "findCustomers", "eraseCustomer", "exportCustomer", "listAudit"},
}

var rightOf = func() map[string]Right {
	out := map[string]Right{}
	for right, operations := range needs {
		for _, o := range operations {
			out[o] = right
		}
	}
	return out
}()

// RightFor is what an operation asks for; false for one without a rule, which is nobody's.
func RightFor(operation string) (Right, bool) {
	r, ok := rightOf[operation]
	return r, ok
}

// Rules are all operations with their rights, for the docs and the test that walks the contract.
func Rules() map[string]Right {
	out := make(map[string]Right, len(rightOf))
	for o, r := range rightOf {
		out[o] = r
	}
	return out
}

// rightWords say what a right covers.
var rightWords = map[Right]string{
	Oneself: "sign in and out; own passphrase, PIN, passkeys, sessions",
	Look:    "see cases, units, instruments, the week; print",
	TakeIn:  "open a case, note what the customer says",
	Work:    "readings, checks, measurements, bench, pictures, recordings",
	Offer:   "estimates and private links",
	Decide:  "note the customer's decision",
	Sign:    "issue records, close, reopen, countersign, admit a device",
	Plan:    "jobs and the week",
	Teach:   "the shop's own sheets, words, gauges",
	Shop:    "settings, prices, bays and hours",
	Manage:  "people, devices, audit trail, keys, backup, privacy",
}

// Table is who may do what, as rows of a table in Markdown.
func Table() []string {
	out := []string{"| what | owner | diagnostician | apprentice | front desk |", "| --- | --- | --- | --- | --- |"}
	for _, right := range roleRights[Owner] {
		row := "| " + rightWords[right] + " |"
		for _, role := range Roles {
			cell := ""
			switch {
			case !slices.Contains(roleRights[role], right):
			case right == Decide && role == Apprentice:
				cell = "yes, to be countersigned"
			case slices.Contains(strong, right):
				cell = "yes, by passkey, or passphrase at a device of the shop"
			default:
				cell = "yes"
			}
			row += " " + cell + " |"
		}
		out = append(out, row)
	}
	return out
}
