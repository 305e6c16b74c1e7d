import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { day } from "../../shared/format";
import { TextField } from "../../shared/fields";
import { Section } from "../../shared/Section";
import { useMay } from "../../shared/session";
import { ShopPlaces } from "../../shared/ShopPlaces";
import { Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { useForm } from "../../shared/useForm";
import { useSettled } from "../../shared/useSettled";

type Subject = Schemas["Subject"];

const key = ["privacy"];

function Times({ saved }: { saved: Schemas["Privacy"] }) {
  const client = useQueryClient();
  const [form, put] = useForm({ names: String(saved.names), pictures: String(saved.pictures) });
  const save = useMutation({
    mutationFn: () =>
      answer(
        api.PUT("/privacy", {
          params: { header: { "If-Match": saved.rev } },
          body: { names: Number(form.names), pictures: Number(form.pictures) },
        }),
      ),
    onSuccess: (now) => client.setQueryData(key, now),
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  const years = (name: "names" | "pictures", label: string) => (
    <TextField
      label={label}
      required
      inputMode="numeric"
      maxLength={3}
      value={form[name]}
      onChange={(e) => put({ [name]: e.target.value.replace(/\D/g, "") })}
    />
  );
  return (
    <form onSubmit={submit}>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr auto" }} gap="3" alignItems="end">
        {years("names", "Names and vehicle, years after closing")}
        {years("pictures", "Pictures, years after closing")}
        <Button type="submit" loading={save.isPending}>
          Save
        </Button>
      </Grid>
      <Text color="ink2" textStyle="small" mt="1">
        0 keeps them until somebody asks. Pictures on a record stay with it. Your law says how long records are kept.
      </Text>
      {save.error && <Problem error={save.error} />}
      <Text role="status" color="good">
        {save.isSuccess && "✓ saved"}
      </Text>
    </form>
  );
}

/** One customer: what is held, and what can be done on request. */
function Customer({ subject }: { subject: Subject }) {
  const client = useQueryClient();
  const [sure, setSure] = useState(false);
  const [why, setWhy] = useState("");
  const erase = useMutation({
    mutationFn: () => answer(api.POST("/erasures", { body: { customer: subject.customer, why } })),
    onSuccess: () => client.invalidateQueries(),
  });
  // The name goes in the body: addresses are written down in many places.
  const save = useMutation({
    mutationFn: async () => {
      const file = await answer(api.POST("/customer-archive", { body: { customer: subject.customer }, parseAs: "blob" }));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(file as unknown as Blob);
      link.download = "customer.zip";
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });
  const records = subject.cases.flatMap((c) => c.records);
  const open = subject.cases.filter((c) => !c.closed);
  return (
    <Box role="group" aria-label={subject.customer} borderTopWidth="1px" borderColor="line" py="3">
      <Text textStyle="lead" fontWeight="700">
        {subject.customer}
      </Text>
      {subject.cases.map((c) => (
        <Text key={c.id} color="ink2">
          {c.vehicle}, {day(c.opened)}
          {c.closed ? ` to ${day(c.closed)}` : ", still open"} · {c.records.length} records · {c.pictures} pictures
        </Text>
      ))}
      <Flex gap="3" mt="2" wrap="wrap" align="end">
        <Button loading={save.isPending} onClick={() => save.mutate()}>
          Save all of it for the customer
        </Button>
        {!sure && (
          <Button variant="ghost" disabled={open.length > 0} onClick={() => setSure(true)}>
            Remove the names
          </Button>
        )}
      </Flex>
      {open.length > 0 && (
        <Text color="ink2" textStyle="small" mt="1">
          Names can be removed once every case is closed.
        </Text>
      )}
      {sure && (
        <Box bg="faultSoft" px="4" py="3" mt="2" borderLeftWidth="4px" borderColor="fault">
          <Text>
            <b>This cannot be undone.</b> Name, vehicle and signature go from {subject.cases.length} cases, and pictures that are on no
            record.
            {records.length > 0 && ` The law keeps records ${records.join(", ")}: they stay, with the name replaced.`} Backups keep the name
            until they are replaced.
          </Text>
          <Flex gap="3" mt="2" align="end" wrap="wrap">
            <Box w="280px">
              <TextField
                label="Why"
                required
                maxLength={120}
                placeholder="asked by letter"
                value={why}
                onChange={(e) => setWhy(e.target.value)}
              />
            </Box>
            <Button variant="solid" disabled={!why.trim()} loading={erase.isPending} onClick={() => erase.mutate()}>
              Remove the names
            </Button>
            <Button variant="ghost" onClick={() => setSure(false)}>
              Keep them
            </Button>
          </Flex>
        </Box>
      )}
      {(erase.error ?? save.error) && <Problem error={erase.error ?? save.error} />}
    </Box>
  );
}

function Customers() {
  const [typed, setTyped] = useState("");
  const q = useSettled(typed.trim());
  const { data, error } = useQuery({
    queryKey: ["customers", q],
    queryFn: ({ signal }) => answer(api.POST("/customers", { signal, body: { q } })),
    enabled: q.length >= 2,
  });
  return (
    <>
      <Box maxW="420px" mb="3">
        <TextField label="Customer’s name" maxLength={120} value={typed} onChange={(e) => setTyped(e.target.value)} />
      </Box>
      {error && <Problem error={error} />}
      {data?.length === 0 && <Text color="ink2">No case names “{q}” as its customer.</Text>}
      {data?.map((s) => (
        <Customer key={s.customer} subject={s} />
      ))}
    </>
  );
}

/** What the shop holds of its customers, for how long, and what to do when one asks. */
export function PrivacyPage() {
  const may = useMay("manage");
  const { data, error } = useQuery({ queryKey: key, queryFn: ({ signal }) => answer(api.GET("/privacy", { signal })), enabled: may });
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="Privacy" />
      <ShopPlaces title="Privacy" />
      {!may && <Text color="ink2">The owner answers customers who ask what is held of them.</Text>}
      {may && (
        <>
          <Section id="asked" title="A customer asks" about="What the shop holds of them, or to be forgotten.">
            <Customers />
          </Section>
          <Section id="times" title="How long it is kept" about="Then names are replaced by themselves. What was found stays.">
            {error && <Problem error={error} />}
            {!data && !error && <Loading what="the times" />}
            {data && <Times key={data.rev} saved={data} />}
          </Section>
        </>
      )}
    </Box>
  );
}
