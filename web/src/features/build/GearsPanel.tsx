import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { proposalsQuery, schemesQuery } from "../../api/queries";
import { Problem } from "../../shared/states";
import { OwnGears } from "./OwnGears";
import { SchemeTile } from "./SchemeTile";
import { elementsOf, hasGears, type Sheet, type View } from "./sheet";
import type { Build } from "./useBuild";

/** The gears under a chart that is there already: schemes that fit it, all others, or none. */
export function GearsPanel({
  id,
  build,
  sheet,
  view,
  picked,
  pick,
  close,
}: {
  id: string;
  build: Build;
  sheet: Sheet;
  view: View;
  picked: string[];
  pick: (lines: string[]) => void;
  close: () => void;
}) {
  const schemes = useQuery(schemesQuery);
  const proposals = useQuery({ ...proposalsQuery(id, view.revision), enabled: elementsOf(sheet).length > 0 });
  const fits = proposals.data ?? [];
  /** A scheme under the chart, its elements where the proposal puts them; those that it has no place for are placed by hand. */
  const lay = (scheme: string, places: Record<string, string>) => {
    const to = schemes.data?.find((x) => x.id === scheme)?.sheet as unknown as Sheet | undefined;
    if (!to) return;
    const at = (e: string) => elementsOf(to).find((x) => x.id === places[e]);
    build.change(
      (s) => ({
        ...s,
        gearing: to.gearing,
        elements: elementsOf(s).map((e) => ({ ...e, a: at(e.id)?.a, b: at(e.id)?.b, beside: undefined, series: undefined })),
      }),
      { scheme, counted: false, fit: 0 },
    );
    close();
  };
  const bare = () => {
    build.change((s) => ({ ...s, gearing: undefined, elements: elementsOf(s).map((e) => ({ ...e, a: undefined, b: undefined })) }), {
      scheme: "",
      counted: false,
      fit: 0,
    });
    close();
  };
  return (
    <Box as="section" aria-label="Gears" borderWidth="1px" borderColor="slate" bg="panel" p="4" mt="3">
      <Text fontWeight="700">Gears that your chart and ratios fit</Text>
      {proposals.error && <Problem error={proposals.error} />}
      {proposals.data && fits.length === 0 && (
        <Text color="ink2">None of the schemes here. Choose one below and place the elements, or stay with the chart.</Text>
      )}
      <Flex wrap="wrap" mt="2">
        {fits.map((p) => {
          const x = schemes.data?.find((s) => s.id === p.scheme);
          return (
            x && (
              <SchemeTile
                key={p.scheme}
                scheme={x}
                about={p.fits > 0 ? `teeth that fit: ${p.fits}` : p.fits < 0 ? "fits the chart, not the ratios" : "fits the chart"}
                choose={() => lay(p.scheme, p.places)}
              />
            )
          );
        })}
      </Flex>
      {fits.length > 1 && (
        <Text color="ink2" textStyle="small" mt="1">
          They turn out the same speeds at input and output. Take the first unless you know better.
        </Text>
      )}
      <Text fontWeight="700" mt="4">
        All schemes
      </Text>
      <Flex wrap="wrap" mt="2">
        {schemes.data
          ?.filter((x) => !fits.some((p) => p.scheme === x.id))
          .map((x) => (
            <SchemeTile key={x.id} scheme={x} about={x.hint} choose={() => lay(x.id, {})} />
          ))}
      </Flex>
      <Text fontWeight="700" mt="4">
        Or draw your own
      </Text>
      <OwnGears sheet={sheet} picked={picked} pick={pick} change={(f) => build.change(f, { scheme: "own", counted: false, fit: 0 })} />
      <Flex gap="3" mt="3">
        {hasGears(sheet) && <Button onClick={bare}>Stay with the chart alone</Button>}
        <Button onClick={close}>Close</Button>
      </Flex>
    </Box>
  );
}
