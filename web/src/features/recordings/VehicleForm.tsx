import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { vehicleSheetQuery } from "../../api/recordings";
import { SelectField, TextField } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { short } from "../../shared/format";
import { worker } from "../../shared/worker";

type Vehicle = Schemas["VehicleSheet"]["vehicle"];

const joints: [string, string][] = [
  ["", "not known"],
  ["cross", "cross joints"],
  ["tripod", "tripod joints"],
  ["ball", "ball joints"],
];
const shafts: [string, string][] = [
  ["0", "none: axle shafts"],
  ["1", "one piece"],
  ["2", "two pieces, center bearing"],
];

/** Engine, axle, tire, shafts, belts and bearings: kept with the vehicle. What nobody knows is left empty, and its sources stay out. */
export function VehicleForm({ vehicle, sheet }: { vehicle: string; sheet: Schemas["VehicleSheet"] }) {
  const client = useQueryClient();
  const v = sheet.vehicle;
  const [text, setText] = useState({
    cylinders: v.cylinders ? String(v.cylinders) : "",
    axle: v.axle ? short(v.axle, 4) : "",
    pinion: v.pinion ? String(v.pinion) : "",
    tire: sheet.tire ?? "",
    circumference: v.circumference ? short(1000 * v.circumference, 0) : "",
  });
  const [joint, setJoint] = useState<string>(v.joint ?? "");
  const [pieces, setPieces] = useState(String(v.pieces ?? 0));
  const [belts, setBelts] = useState(v.belts ?? []);
  const [bearings, setBearings] = useState(v.bearings ?? []);
  const save = useMutation({
    mutationFn: () => {
      const n = (t: string) => Number(t.replace(",", ".")) || undefined;
      const next: Vehicle = {
        cylinders: n(text.cylinders),
        axle: n(text.axle),
        pinion: n(text.pinion),
        circumference: text.circumference ? (n(text.circumference) ?? 0) / 1000 : undefined,
        tread: v.tread,
        joint: joint as Vehicle["joint"],
        pieces: Number(pieces),
        belts,
        bearings,
      };
      return answer(
        api.PUT("/vehicle-sheets", {
          body: { vehicle, sheet: { vehicle: next, tire: text.tire || undefined, revision: sheet.revision, by: worker() } },
        }),
      );
    },
    onSuccess: (now) => {
      client.setQueryData(vehicleSheetQuery(vehicle).queryKey, now);
      void client.invalidateQueries({ queryKey: ["recordings"] });
    },
  });
  const field = (k: keyof typeof text, label: string, help?: string) => (
    <TextField
      label={label}
      help={help}
      value={text[k]}
      inputMode="decimal"
      maxLength={40}
      onChange={(e) => setText({ ...text, [k]: e.target.value })}
    />
  );
  return (
    <Box
      as="form"
      pb="3"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <Text color="ink2" mb="2">
        Of {vehicle}. Kept with the vehicle.
      </Text>
      <Grid templateColumns="1fr 1fr" gap="3">
        {field("cylinders", "Cylinders")}
        {field("axle", "Axle ratio", "of a transaxle its final drive")}
        {field("tire", "Tire size", "such as 205/55 R16")}
        {field("circumference", "Rolls per turn, mm", "measured is better; the size gives it, too")}
        {field("pinion", "Teeth of the axle's pinion")}
        <SelectField label="Driveshaft" value={pieces} options={shafts} onChange={(e) => setPieces(e.target.value)} />
        <SelectField label="Joints" value={joint} options={joints} onChange={(e) => setJoint(e.target.value)} />
      </Grid>
      <Rows
        title="Belt drives"
        rows={belts}
        add={() => setBelts([...belts, { name: "alternator", ratio: 2.6 }])}
        drop={(i) => setBelts(belts.filter((_, k) => k !== i))}
        row={(b, i) => (
          <>
            <Input
              aria-label="What the belt drives"
              value={b.name}
              onChange={(e) => setBelts(belts.map((x, k) => (k === i ? { ...x, name: e.target.value } : x)))}
            />
            <Input
              aria-label={`Turns of ${b.name} for one of the crank`}
              type="number"
              step="any"
              value={b.ratio}
              onChange={(e) => setBelts(belts.map((x, k) => (k === i ? { ...x, ratio: Number(e.target.value) } : x)))}
            />
          </>
        )}
      />
      <Rows
        title="Bearings around the unit: elements, and their size to that of their circle"
        rows={bearings}
        add={() =>
          setBearings([
            ...bearings,
            { id: `b${Date.now().toString(36)}`, name: "wheel bearing", elements: 12, ratio: 0.15, inner: "wheel" },
          ])
        }
        drop={(i) => setBearings(bearings.filter((_, k) => k !== i))}
        row={(b, i) => {
          const set = (n: Partial<(typeof bearings)[number]>) => setBearings(bearings.map((x, k) => (k === i ? { ...x, ...n } : x)));
          return (
            <>
              <Input aria-label="Name of the bearing" value={b.name} onChange={(e) => set({ name: e.target.value })} />
              <Input
                aria-label={`Balls or rollers of ${b.name}`}
                type="number"
                value={b.elements}
                onChange={(e) => set({ elements: Number(e.target.value) })}
              />
              <Input
                aria-label={`Size of an element of ${b.name} over that of the circle`}
                type="number"
                step="any"
                value={b.ratio}
                onChange={(e) => set({ ratio: Number(e.target.value) })}
              />
            </>
          );
        }}
      />
      {save.error && <Problem error={save.error} />}
      <Button type="submit" variant="solid" mt="3" disabled={save.isPending}>
        Keep it with the vehicle
      </Button>
    </Box>
  );
}

function Rows<T>({
  title,
  rows,
  row,
  add,
  drop,
}: {
  title: string;
  rows: T[];
  row: (r: T, i: number) => React.ReactNode;
  add: () => void;
  drop: (i: number) => void;
}) {
  return (
    <Box as="fieldset" mt="3">
      <Text as="legend" fontWeight="600" textStyle="label">
        {title}
      </Text>
      {rows.map((r, i) => (
        <Flex key={i} gap="2" mt="1">
          {row(r, i)}
          <button type="button" aria-label="Take out" onClick={() => drop(i)} style={{ minWidth: 44, minHeight: 44 }}>
            <X size={16} aria-hidden style={{ margin: "auto" }} />
          </button>
        </Flex>
      ))}
      <Button mt="1" onClick={add}>
        Add one
      </Button>
    </Box>
  );
}
