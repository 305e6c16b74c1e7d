import { Grid, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Disclosed } from "./Disclosed";
import { Select } from "./fields";
import { capital } from "./format";
import { Problem } from "./states";
import { topics, type From } from "./sources";

type Figure = Schemas["SheetNumber"];

const fromWords: Record<string, string> = {
  "": "not said",
  measured: "measured",
  paper: "maker’s paper",
  counted: "counted",
  assumed: "assumed",
};

/** One number with its source; with say it can be changed. */
function Row({ number, say }: { number: Figure; say?: (value: string, from: From, why: string) => void }) {
  const own = number.given ? number.from : "";
  const rest = number.given ? "like the rest" : number.from ? `like the rest: ${fromWords[number.from]}` : "not said";
  return (
    <Grid
      templateColumns={{ base: "1fr 1fr", md: "1.4fr 170px 210px 1fr" }}
      gap="2"
      alignItems="center"
      minH="44px"
      py="1"
      borderTopWidth="1px"
      borderColor="line"
    >
      <Text textStyle="label">{number.words}</Text>
      {say ? (
        <Input
          key={number.value}
          aria-label={number.words}
          defaultValue={number.value}
          maxLength={60}
          onBlur={(e) => e.target.value !== number.value && say(e.target.value, own as From, number.why)}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      ) : (
        <Text fontVariantNumeric="tabular-nums">{number.value.replace("..", " to ")}</Text>
      )}
      {say ? (
        <Select aria-label={`Source of ${number.words}`} value={own} onChange={(e) => say(number.value, e.target.value as From, "")}>
          <option value="">{rest}</option>
          {["measured", "paper", "counted", "assumed"].map((f) => (
            <option key={f} value={f}>
              {fromWords[f]}
            </option>
          ))}
        </Select>
      ) : (
        <Text
          color={number.from === "assumed" ? "ink2" : undefined}
          textDecoration={number.from === "assumed" ? "underline dashed" : undefined}
        >
          {fromWords[number.from] ?? number.from}
        </Text>
      )}
      {say && own ? (
        <Input
          key={number.why}
          aria-label={`Where ${number.words} is from`}
          placeholder="page, vehicle, date"
          defaultValue={number.why}
          maxLength={200}
          onBlur={(e) => e.target.value !== number.why && say(number.value, own as From, e.target.value)}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      ) : (
        <Text color="ink2" textStyle="small">
          {[number.why, number.by].filter(Boolean).join(" · ")}
        </Text>
      )}
    </Grid>
  );
}

/** Every number of a sheet by topic, with where it is from. */
export function NumberSources({
  numbers,
  author,
  say,
}: {
  numbers: Figure[];
  author?: string;
  /** Tells which can be changed, and changes them. */
  say?: { can: (n: Figure) => boolean; put: (path: string, value: string, from: From, why: string) => Promise<void> };
}) {
  const [failed, setFailed] = useState<unknown>();
  const assumed = numbers.filter((n) => n.from === "assumed").length;
  const groups = Object.keys(topics).filter((t) => numbers.some((n) => n.topic === t));
  return (
    <Disclosed title={`Where each number is from: ${numbers.length} numbers, ${assumed} assumed`}>
      {author && <Text color="ink2">Written by {author}.</Text>}
      {failed !== undefined && <Problem error={failed} />}
      {groups.map((topic) => {
        const list = numbers.filter((n) => n.topic === topic);
        const open = list.filter((n) => n.from === "assumed").length;
        return (
          <Disclosed key={topic} title={`${capital(topics[topic] ?? topic)}: ${list.length}${open > 0 ? `, ${open} assumed` : ""}`}>
            {list.map((n) => (
              <Row
                key={n.path}
                number={n}
                say={
                  say?.can(n)
                    ? (value, from, why) => void say.put(n.path, value, from, why).then(() => setFailed(undefined), setFailed)
                    : undefined
                }
              />
            ))}
          </Disclosed>
        );
      })}
    </Disclosed>
  );
}
