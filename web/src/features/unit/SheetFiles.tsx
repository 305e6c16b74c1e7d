import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { answer, api } from "../../api/client";
import { differencesQuery, numbersQuery } from "../../api/queries";
import { Problem } from "../../shared/states";
import { Heading, Table } from "../../shared/Table";
import { NumberSources } from "../../shared/NumberSources";
import type { Unit } from "./unit";
import { number } from "../../shared/format";

/** What this version says otherwise than the one before it. */
function Otherwise({ unit }: { unit: Unit }) {
  const before = Math.max(...unit.versions.filter((v) => v < unit.version), 0);
  const { data } = useQuery({ ...differencesQuery(unit.id, before, unit.version), enabled: before > 0 });
  if (!data) return null;
  return (
    <Box mt="5">
      <Heading>
        What version {unit.version} says otherwise than {before}
      </Heading>
      {data.length === 0 && <Text color="ink2">Nothing.</Text>}
      {data.map((d) => (
        <Text key={d} borderTopWidth="1px" borderColor="line" py="1">
          {d}
        </Text>
      ))}
    </Box>
  );
}

/** Who wrote the sheet, and where each of its numbers is from. */
function Sources({ unit }: { unit: Unit }) {
  const { data } = useQuery(numbersQuery(unit.id, unit.version));
  return data ? <NumberSources numbers={data.numbers} author={data.author} /> : null;
}

/** A newer sheet of the same unit, from somebody else: it counts, and what this shop has added to its own stays. */
function Newer({ unit }: { unit: Unit }) {
  const navigate = useNavigate();
  const merge = useMutation({
    mutationFn: async (file: File) =>
      answer(api.POST("/units/{id}/merge", { params: { path: { id: unit.id } }, body: { text: await file.text() } })),
  });
  return (
    <Box mt="5">
      <Heading note="Its numbers count. Known failures, limits, knowledge and measured values of yours stay.">
        A newer sheet of this unit
      </Heading>
      <Button asChild>
        <label>
          Bring it in from a file
          <input
            type="file"
            accept=".yaml,.yml,.json"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) merge.mutate(file);
              e.target.value = "";
            }}
            style={{ position: "absolute", opacity: 0, width: 1 }}
          />
        </label>
      </Button>
      {merge.error && <Problem error={merge.error} />}
      {merge.data && (
        <Box mt="2">
          <Text>
            {merge.data.clash.length === 0
              ? "Nothing of yours is in its way."
              : `${merge.data.clash.length} things are said otherwise. The newer one counts:`}
          </Text>
          {merge.data.clash.slice(0, 60).map((c) => (
            <Text key={c} borderTopWidth="1px" borderColor="line" py="1">
              {c}
            </Text>
          ))}
          <Button mt="2" variant="solid" onClick={() => void navigate(`/units/build/${merge.data.draft}`)}>
            Look at it in the builder
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** Changes a unit in the builder: the shop's own as its next version, one that ships as a copy. */
function BuildFrom({ unit }: { unit: Unit }) {
  const navigate = useNavigate();
  const start = useMutation({
    mutationFn: () => answer(api.POST("/drafts", { body: { kind: "automatic", copy: unit.id } })),
    onSuccess: (d) => void navigate(`/units/build/${d.id}`),
  });
  return (
    <Button variant="solid" loading={start.isPending} onClick={() => start.mutate()}>
      {unit.own ? "Change it in the builder" : "Copy it into the builder"}
    </Button>
  );
}

/** The sheet as a file, its versions, and the way to one's own. */
export function SheetFiles({ unit }: { unit: Unit }) {
  const at = `/api/units/${unit.id}/sheet?version=${unit.version}`;
  const newest = Math.max(...unit.versions);
  return (
    <Box maxW="820px">
      <Heading note="Everything on these pages is computed from it. YAML and JSON say the same.">The sheet of {unit.name}</Heading>
      <Flex gap="3" wrap="wrap" my="3">
        <Button asChild>
          <a href={`${at}&format=yaml`} download>
            Save as YAML
          </a>
        </Button>
        <Button asChild>
          <a href={`${at}&format=json`} download>
            Save as JSON
          </a>
        </Button>
        <BuildFrom unit={unit} />
        <Button asChild>
          <Link to={`/units/new?from=${unit.id}&version=${unit.version}${unit.own ? "&next=1" : ""}`}>
            {unit.own ? "Write the next version" : "Copy into a sheet of your own"}
          </Link>
        </Button>
      </Flex>
      <Box mt="5">
        <Heading note="A case keeps the version that it was made with.">Versions</Heading>
        <Table
          label="Versions"
          head={["version", ""]}
          rows={[...unit.versions].reverse().map((v) => [
            v === unit.version ? <b key="v">{v}, shown here</b> : String(v),
            v === unit.version ? (
              ""
            ) : (
              <Link key="l" to={`/units/${unit.id}/sheet${v === newest ? "" : `?version=${v}`}`}>
                <Text as="span" textDecoration="underline" display="inline-flex" minH="44px" alignItems="center">
                  show it
                </Text>
              </Link>
            ),
          ])}
        />
      </Box>
      <Sources unit={unit} />
      {unit.versions.length > 1 && <Otherwise unit={unit} />}
      {unit.own && <Newer unit={unit} />}
      <Box mt="5">
        <Heading>Does it fit together?</Heading>
        {unit.doubts.length === 0 ? (
          <Text>
            Yes. Sets mesh and assemble, every range does what it declares, elements hold the engine
            {unit.maxTorque && ` of ${unit.maxTorque}`}
            {unit.margin > 1 && ` with a margin of ${number(unit.margin, 2)}`}, as far as the sheet gives numbers.
          </Text>
        ) : (
          <Box as="ul" pl="5" listStyleType="disc">
            {unit.doubts.map((d) => (
              <li key={d.path + d.reason}>
                {d.path}: {d.reason}. Fits: {d.accepted}
              </li>
            ))}
          </Box>
        )}
      </Box>
    </Box>
  );
}
