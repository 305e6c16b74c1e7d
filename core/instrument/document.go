package instrument

import (
	"fmt"
	"strings"
)

// Document describes all instruments in Markdown, from their definitions alone.
func (c *Catalogue) Document() string {
	var b strings.Builder
	b.WriteString(`# The instruments

Every calculation of the app, made from the definitions in ` + "`core/instruments`" + `: the page, the API, ` + "`innercompass calc`" + ` and this file come from the same place. Numbers take any unit of
their dimension, and an uncertainty after ±: half the width of an interval that holds the value 95 times in 100. Uncertainties are carried through by the first-order rule of JCGM 100, or by 2,000 samples where the
computation bends within them. A size without an uncertainty takes that of the gauge chosen, else of the usual one.

`)
	for _, g := range Groups {
		fmt.Fprintf(&b, "## %s\n\n", g.Title)
		for _, d := range c.All() {
			if d.Group == g.ID {
				c.document(d, &b)
			}
		}
	}
	return b.String()
}

func (c *Catalogue) document(d Definition, b *strings.Builder) {
	if fitted, err := c.For(d.ID, nil); err == nil {
		d = fitted // what has parts without a unit shows its first
	}
	fmt.Fprintf(b, "### %s: `%s`\n\n%s In the hand: %s.", d.Title, d.ID, d.Answers, strings.Join(d.Hand, ", "))
	if d.Gauge != "" {
		fmt.Fprintf(b, " Usual gauge: %s.", d.Gauge)
	}
	if len(d.States) > 0 {
		fmt.Fprintf(b, " In a case it states: `%s`.", strings.Join(d.States, "`, `"))
	}
	fmt.Fprintf(b, "\n\nSource: %s. Limits: %s.\n\n", d.Source, d.Limits)
	for _, c := range d.Cautions {
		fmt.Fprintf(b, "**Caution.** %s\n\n", c)
	}
	if len(d.Inputs) == 0 {
		b.WriteString("Its inputs are the ranges of the unit.\n\n")
		return
	}
	b.WriteString("| input | what | filled in | accepted |\n| --- | --- | --- | --- |\n")
	for _, in := range d.Inputs {
		what := in.Label
		switch in.Kind {
		case List:
			what += " (list)"
		}
		if in.Help != "" {
			what += ". " + in.Help
		}
		before := in.Default
		switch {
		case before == "" && in.Optional:
			before = "may be left out"
		case before == "":
			before = "needed, such as " + in.Example
		}
		if len(in.From) > 0 {
			before += "; or from `" + strings.Join(in.From, "`, `") + "`"
		}
		accepted, _, _ := strings.Cut(in.accepts(Terms{}), "; another unit")
		fmt.Fprintf(b, "| `%s` | %s | %s | %s |\n", in.ID, what, before, accepted)
	}
	b.WriteString("\n")
}
