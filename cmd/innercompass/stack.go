package main

import (
	"fmt"
	"io"
	"slices"
	"strings"
	"text/tabwriter"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
)

// stackedPart is a part of a stack as it is printed.
type stackedPart struct {
	Number string `json:"number"` // in the drawing; empty for the case
	Back   int    `json:"back"`   // place in building, from 1; 0 for the case
	stack.PartSheet
	Traps []unitsheet.TrapSheet `json:"traps"`
}

type printedStack struct {
	Unit     string               `json:"unit"`
	Version  int                  `json:"version"`
	Tally    stack.Tally          `json:"tally"`
	Axes     []stack.AxisSheet    `json:"axes"`
	Parts    []stackedPart        `json:"parts"`
	Body     *stack.BodySheet     `json:"body"`
	Kits     []stack.KitSheet     `json:"kits"`
	Together []stack.CompanySheet `json:"together"`
}

func stackUnit(w io.Writer, name string, asJSON bool) error {
	n, err := loadUnit(name)
	if err != nil {
		return err
	}
	u := n.Unit
	if u.Stack == nil {
		return fmt.Errorf("the sheet of %s has no stack; accepted: a sheet with parts under stack", u.Sheet.Name)
	}
	s := u.Stack
	out := printedStack{Unit: u.Sheet.ID, Version: u.Sheet.Version, Tally: s.Tally(), Axes: s.Sheet.Axes, Body: s.Sheet.Body, Kits: s.Sheet.Kits, Together: s.Sheet.Company}
	numbers, back := s.Numbers(), s.Back()
	for i, p := range s.Parts {
		one := stackedPart{Number: numbers[i], Back: slices.Index(back, i) + 1, PartSheet: p.PartSheet, Traps: []unitsheet.TrapSheet{}}
		for _, t := range u.Sheet.Traps {
			if t.Part == p.ID {
				one.Traps = append(one.Traps, t)
			}
		}
		out.Parts = append(out.Parts, one)
	}
	if asJSON {
		return cli.PrintJSON(w, out)
	}
	t := out.Tally
	fmt.Fprintf(w, "%s: %d parts, %d pieces, %d bolts, %d select fits, %d limits, %d never used again\n\n", u.Sheet.Name, t.Parts, t.Pieces, t.Bolts, t.Fits, t.Limits, t.Once)
	table := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
	fmt.Fprintln(table, "out\tback\tpart\taccess\tway\tsits in\tturns with\tlimits")
	for _, p := range out.Parts {
		fmt.Fprintf(table, "%s\t%d\t%s\t%s\t%s\t%s\t%s\t%s\n", p.Number, p.Back, strings.Repeat("  ", strings.Count(p.Number, "."))+p.Name, p.Access, p.Out, p.In, p.Turns, strings.Join(p.Limits, ", "))
		for _, trap := range p.Traps {
			fmt.Fprintf(table, "\t\t  trap: %s\n", trap.Text)
		}
	}
	return table.Flush()
}
