package paper

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"innercompass/core/job"
	"innercompass/core/money"
	"innercompass/core/quantity"
	"innercompass/internal/jobs"
)

// JobSheet writes the job of a case as pages for the bay: cautions before the work, tasks with tools, torques and what is heeded, the parts
// list with what to order. The same job at the same moment makes the same bytes.
func JobSheet(ctx context.Context, w io.Writer, j jobs.Job, at time.Time, paper string) error {
	st := j.Settings
	s := newSheet(ctx, paper, at, "Job sheet "+j.Case.ID+": "+j.Case.Vehicle, st.Shop, "Job sheet "+j.Case.ID+" · "+j.Case.Vehicle, "The maker's procedure, local rules and licensed practice go before this sheet.")
	b := &bay{sheet: s, job: j}
	b.top()
	b.cautions()
	b.tasks()
	b.parts()
	if s.err != nil {
		return s.err
	}
	return s.Output(w)
}

// bay lays a job sheet out.
type bay struct {
	*sheet
	job jobs.Job
}

func (b *bay) day(t time.Time) string {
	return t.In(b.job.Settings.Location()).Format("Mon, January 2, 15:04")
}

func (b *bay) hours(v float64) string { return b.job.Settings.Style().Number(v, 1) + " h" }

func (b *bay) top() {
	j := b.job
	b.font("B", textSize+1)
	b.CellFormat(b.width, 5, j.Settings.Shop, "", 1, "L", false, 0, "")
	b.Ln(3)
	var works []string
	for _, w := range j.Visit.Works {
		works = append(works, w.Option.Title)
	}
	b.sheet.text("B", 15, strings.Join(works, " + "))
	b.Ln(1)
	b.sheet.text("", textSize, joined(" · ", j.Case.Vehicle, j.Network.Unit.Sheet.Name, j.Case.Distance, j.Case.Customer))
	if !j.Agreed {
		b.warned([]string{"The customer has not agreed to this work yet."})
	}
	b.Ln(2)
	rows := []tableRow{{false, []string{"hours of work", b.hours(j.Plan.Hours) + ", of these " + b.hours(j.Plan.Open) + " to open and close"}}}
	if j.Slot != nil {
		who := []string{}
		for _, p := range j.Slot.Phases {
			for _, i := range p.By {
				if !slices.Contains(who, j.Workshop.People[i]) {
					who = append(who, j.Workshop.People[i])
				}
			}
		}
		rows = append(rows, tableRow{false, []string{"bay", j.Workshop.Bays[j.Slot.Bay] + ", " + strings.Join(who, ", ")}}, tableRow{false, []string{"begins", b.day(j.Slot.From)}})
	}
	rows = append(rows, tableRow{false, []string{"done by", b.day(j.Promise.Half) + " in half of such jobs, " + b.day(j.Promise.Nine) + " in nine of ten"}})
	b.table([]column{{"", 0.25, false}, {"", 0.75, false}}, rows)
}

// cautions stand before the work, each once.
func (b *bay) cautions() {
	var all []string
	for _, t := range b.job.Plan.Tasks {
		for _, c := range t.Cautions {
			if line := c.Title + " " + c.Text; !slices.Contains(all, line) {
				all = append(all, line)
			}
		}
	}
	if len(all) > 0 {
		b.title("Before you begin")
		b.warned(all)
	}
}

func (b *bay) tasks() {
	b.title("Work")
	for i, t := range b.job.Plan.Tasks {
		b.room(14)
		b.font("B", textSize)
		b.CellFormat(6, lineMM+0.6, "", "1", 0, "L", false, 0, "") // to tick
		b.CellFormat(2, lineMM+0.6, "", "", 0, "L", false, 0, "")
		time := b.hours(t.Time.Likely)
		if t.Waits() {
			time = b.job.Settings.Style().Number(t.Days.Likely, 1) + " days"
		}
		b.CellFormat(b.width-30, lineMM+0.6, fmt.Sprintf("%d  %s", i+1, t.Title), "", 0, "L", false, 0, "")
		b.CellFormat(22, lineMM+0.6, time, "", 1, "R", false, 0, "")
		b.font("", textSize-1)
		b.Ln(0.6)
		var tools []string
		for _, x := range t.Tools {
			tools = append(tools, joined(", or ", x.Name, x.Instead))
		}
		if len(tools) > 0 {
			b.line("Tools: " + strings.Join(tools, "; "))
		}
		for _, h := range t.Heeds {
			b.line("! " + h.Part + ": " + h.Text)
		}
		for _, q := range t.Torques {
			b.line(b.torque(q))
		}
		b.Ln(1.6)
	}
}

func (b *bay) line(text string) {
	b.room(lineMM)
	b.SetX(margin + 8)
	b.MultiCell(b.width-8, 4.4, text, "", "L", false)
}

func (b *bay) torque(q job.Torque) string {
	st := b.job.Settings
	var stages []string
	for _, v := range q.Stages {
		stages = append(stages, st.Style().Format(quantity.Quantity{SI: v, Dimension: quantity.Torque}, st.Torque))
	}
	text := fmt.Sprintf("%s: %d × %s, %s, %s, %s", q.Part, q.Count, q.Thread, strings.Join(stages, " then "), q.Pattern, q.With)
	if q.Turn > 0 {
		text += ", then turned " + st.Style().Format(quantity.Quantity{SI: q.Turn, Dimension: quantity.Angle}, "°")
	}
	if q.Once {
		text += ", new bolts"
	}
	return text
}

func (b *bay) parts() {
	if len(b.job.Plan.Parts) == 0 {
		return
	}
	b.title("Parts")
	st := b.job.Settings
	var rows []tableRow
	for _, p := range b.job.Plan.Parts {
		name := p.Name
		if p.Kit {
			name += " (" + strings.Join(p.Holds, ", ") + ")"
		}
		where := map[string]string{"shelf": "on the shelf", "ordered": "ordered", "here": "here"}[p.Stock.State]
		if where == "" && p.Order {
			where = "order now"
		}
		price := ""
		if p.Price > 0 {
			price = money.Of(p.Price).In(st.Style(), st.Currency)
		}
		rows = append(rows, tableRow{p.Sure(), []string{name, fmt.Sprint(p.Count), percent(p.Need), where, price}})
	}
	b.table([]column{{"part", 0.48, false}, {"pieces", 0.1, true}, {"needed", 0.12, true}, {"where", 0.16, false}, {"price", 0.14, true}}, rows)
}
