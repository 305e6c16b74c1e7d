import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { answer, api, ProblemError, type Settings } from "../../api/client";
import { settingsQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { restyled } from "../../shared/format";
import { Problem } from "../../shared/states";

/** One line of the set-up: its number, what is asked, where it is answered. */
function Line({ n, title, help, children }: { n: number; title: string; help: string; children: ReactNode }) {
  return (
    <Grid
      templateColumns={{ base: "32px 1fr", md: "32px 260px 1fr" }}
      columnGap="3"
      rowGap="2"
      py="4"
      borderTopWidth="1px"
      borderColor="line"
      alignItems="center"
    >
      <Text textStyle="title" fontWeight="700" color="ink2" aria-hidden>
        {n}
      </Text>
      <Box>
        <Text fontWeight="700" textStyle="lead">
          {title}
        </Text>
        <Text color="ink2" textStyle="small">
          {help}
        </Text>
      </Box>
      <Box gridColumn={{ base: "1 / -1", md: "auto" }}>{children}</Box>
    </Grid>
  );
}

/** Three lines that a new shop answers once. Everything else has a usual value and stands in Settings. */
function SetUp({ saved }: { saved: Settings }) {
  const client = useQueryClient();
  const { people: _p, styles: _s, customers: _c, rev, systems, ...rest } = saved;
  const [form, setForm] = useState({ shop: "", system: "us", currency: "$", rate: "" });
  const put = (part: Partial<typeof form>) => setForm({ ...form, ...part });
  const save = useMutation({
    mutationFn: () => {
      const { id: _i, title: _t, ...measures } = systems.find((s) => s.id === form.system)!;
      const rate = form.rate.trim() || restyled(rest.labourRate, rest.numbers, rest.numbers);
      const body = { ...rest, ...measures, shop: form.shop.trim(), currency: form.currency, labourRate: rate };
      return answer(api.PUT("/settings", { body, params: { header: { "If-Match": String(rev) } } }));
    },
    onSuccess: (now) => {
      client.setQueryData(settingsQuery.queryKey, now);
      void client.invalidateQueries();
    },
  });
  const problem = save.error instanceof ProblemError ? save.error.problem : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form onSubmit={submit}>
      <Text as="h2" textStyle="title" fontWeight="700">
        Set up the shop
      </Text>
      <Text color="ink2" mb="3">
        Three lines. All of it can be changed in Settings.
      </Text>
      <Line n={1} title="Name of the shop" help="as printed on records">
        <Input
          aria-label="Name of the shop"
          autoFocus
          required
          maxLength={120}
          maxW="420px"
          value={form.shop}
          onChange={(e) => put({ shop: e.target.value })}
        />
      </Line>
      <Line n={2} title="Units and money" help="you can still type any unit after a number">
        <Flex gap="2" wrap="wrap">
          <Choice
            label="Units of measure"
            value={form.system}
            options={systems.map((s): [string, string] => [s.id, s.title])}
            onChange={(system) => put({ system })}
          />
          <Input
            aria-label="Currency"
            required
            maxLength={4}
            w="72px"
            value={form.currency}
            onChange={(e) => put({ currency: e.target.value })}
          />
        </Flex>
      </Line>
      <Line n={3} title="Labor rate" help="per hour; sets what each check costs">
        <Flex gap="2" align="center">
          <Input
            aria-label="Labor rate per hour"
            inputMode="decimal"
            maxLength={40}
            w="140px"
            placeholder={rest.labourRate}
            value={form.rate}
            onChange={(e) => put({ rate: e.target.value })}
          />
          <Text color="ink2">{form.currency} per hour</Text>
        </Flex>
        {problem?.field === "labourRate" && (
          <Text color="fault" role="alert" textStyle="note" mt="1">
            {problem.detail}. Accepted: {problem.accepted}
          </Text>
        )}
      </Line>
      {save.isError && problem?.field !== "labourRate" && <Problem error={save.error} />}
      <Box borderTopWidth="1px" borderColor="line" pt="4">
        <Button type="submit" variant="solid" loading={save.isPending}>
          Save and go on <kbd>↵</kbd>
        </Button>
      </Box>
    </form>
  );
}

/** What a floor without any case shows: the set-up, then the first vehicle, or a sample to try. */
export function FirstStart({ settings }: { settings: Settings }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const sample = useMutation({
    mutationFn: () => answer(api.POST("/sample")),
    onSuccess: ({ id }) => {
      void client.invalidateQueries({ queryKey: ["cases"] });
      void navigate(`/cases/${id}`);
    },
  });
  return (
    <Box maxW="860px" py="4">
      {settings.shop === "" ? (
        <SetUp saved={settings} />
      ) : (
        <>
          <Text as="h2" textStyle="title" fontWeight="700">
            The floor is empty
          </Text>
          <Text color="ink2" mb="4" maxW="560px">
            Take in the first vehicle: type what the customer says. Or look at a sample case first. It is made up, and you can remove it.
          </Text>
          <Flex gap="3" wrap="wrap">
            <Button variant="solid" autoFocus onClick={() => navigate("/take-in")}>
              Take in the first vehicle <kbd>n</kbd>
            </Button>
            <Button loading={sample.isPending} onClick={() => sample.mutate()}>
              Try a sample case
            </Button>
          </Flex>
          {sample.isError && <Problem error={sample.error} />}
        </>
      )}
    </Box>
  );
}
