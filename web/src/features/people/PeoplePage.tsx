import { Box, Button, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent, type ReactNode } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { ShopPlaces } from "../../shared/ShopPlaces";
import { clock, moment } from "../../shared/format";
import { SelectField, TextField } from "../../shared/fields";
import { Section } from "../../shared/Section";
import { Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { MyAccess } from "./MyAccess";
import { roleNames, useEntered, useSession, type Role, type Session } from "../../shared/session";

type Person = Schemas["PersonDetail"];

const roles = Object.entries(roleNames) as [Role, string][];

/** The first owner: from here on everybody signs in. */
function SetUp() {
  const entered = useEntered();
  const client = useQueryClient();
  const [form, setForm] = useState({ name: "", passphrase: "", device: "Office" });
  const begin = useMutation({
    mutationFn: () => answer(api.POST("/shop-setup", { body: form })),
    onSuccess: (s) => {
      entered(s);
      void client.invalidateQueries({ queryKey: ["people"] });
    },
  });
  const put = (part: Partial<typeof form>) => setForm((f) => ({ ...f, ...part }));
  const submit = (e: FormEvent) => {
    e.preventDefault();
    begin.mutate();
  };
  return (
    <Section
      id="set-up"
      title="Ask who is here"
      about="Now whoever sits at this machine may do everything. Once there is an owner, everybody signs in, at this machine too."
    >
      <form onSubmit={submit}>
        <Grid templateColumns={{ base: "1fr", md: "1fr 1.4fr 1fr" }} gap="3" alignItems="start">
          <TextField
            label="Owner’s name"
            required
            autoComplete="username"
            maxLength={120}
            value={form.name}
            onChange={(e) => put({ name: e.target.value })}
          />
          <TextField
            label="Owner’s passphrase"
            required
            autoComplete="new-password"
            maxLength={512}
            value={form.passphrase}
            onChange={(e) => put({ passphrase: e.target.value })}
            help="At least 12 characters. Four words that do not belong together are good."
          />
          <TextField
            label="Name of this device"
            required
            maxLength={120}
            value={form.device}
            onChange={(e) => put({ device: e.target.value })}
            help="It becomes one of the shop’s."
          />
        </Grid>
        {begin.error && <Problem error={begin.error} />}
        <Button type="submit" variant="solid" mt="3" loading={begin.isPending}>
          Set people up
        </Button>
      </form>
    </Section>
  );
}

const peopleQuery = { queryKey: ["people"], queryFn: ({ signal }: { signal: AbortSignal }) => answer(api.GET("/people", { signal })) };

function usePeopleChange<V>(change: (v: V) => Promise<unknown>, done?: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => {
      done?.();
      for (const key of ["people", "session", "settings"]) void client.invalidateQueries({ queryKey: [key] });
    },
  });
}

function ways(p: Person) {
  const out = [
    p.passphrase && (p.interim ? "interim passphrase" : "passphrase"),
    p.passkeys > 0 && `${p.passkeys} passkey`,
    p.pin && "PIN",
  ];
  return out.filter(Boolean).join(", ") || "cannot sign in";
}

/** One person; open, what can be changed. */
function Row({ person, session }: { person: Person; session: Session }) {
  const [open, setOpen] = useState(false);
  const [phrase, setPhrase] = useState("");
  const path = { id: person.id };
  const change = usePeopleChange((body: Schemas["PersonChange"]) => answer(api.PATCH("/people/{id}", { params: { path }, body })));
  const reset = usePeopleChange(
    () => answer(api.PUT("/people/{id}/passphrase", { params: { path }, body: { passphrase: phrase } })),
    () => setPhrase(""),
  );
  const me = session.person?.id === person.id;
  return (
    <Box borderTopWidth="1px" borderColor="line" py="2" role="group" aria-label={person.name}>
      <Flex align="center" gap="3" minH="44px" wrap="wrap">
        <Text textStyle="lead" fontWeight="600" w="180px">
          {person.name}
          {me && " (you)"}
        </Text>
        <Text w="130px">{roleNames[person.role]}</Text>
        <Text color="ink2" flex="1" minW="160px">
          {ways(person)}
        </Text>
        <Button variant="ghost" aria-expanded={open} aria-label={`Change ${person.name}`} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Change"}
        </Button>
      </Flex>
      {open && (
        <Grid templateColumns={{ base: "1fr", md: "200px 1fr auto" }} gap="3" alignItems="end" pb="3">
          <SelectField label="Role" value={person.role} options={roles} onChange={(e) => change.mutate({ role: e.target.value as Role })} />
          <Flex gap="3" align="end">
            {session.needed && !me && (
              <>
                <Box flex="1">
                  <TextField
                    label="Interim passphrase"
                    autoComplete="off"
                    maxLength={512}
                    value={phrase}
                    onChange={(e) => setPhrase(e.target.value)}
                    placeholder="changed at the first sign-in"
                  />
                </Box>
                <Button disabled={!phrase} loading={reset.isPending} onClick={() => reset.mutate(undefined)}>
                  Give it
                </Button>
              </>
            )}
          </Flex>
          <Button variant="ghost" onClick={() => change.mutate({ leaves: true })}>
            {person.name} leaves
          </Button>
          {(change.error ?? reset.error) && (
            <Box gridColumn="1 / -1">
              <Problem error={change.error ?? reset.error} />
            </Box>
          )}
        </Grid>
      )}
    </Box>
  );
}

function NewPerson({ needed }: { needed: boolean }) {
  const [form, setForm] = useState<{ name: string; role: Role; passphrase: string }>({ name: "", role: "diagnostician", passphrase: "" });
  const put = (part: Partial<typeof form>) => setForm((f) => ({ ...f, ...part }));
  const add = usePeopleChange(
    () => answer(api.POST("/people", { body: { ...form, passphrase: form.passphrase || undefined } })),
    () => setForm({ name: "", role: "diagnostician", passphrase: "" }),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate(undefined);
  };
  return (
    <chakra.form onSubmit={submit} borderTopWidth="1px" borderColor="line" pt="3">
      <Grid templateColumns={{ base: "1fr", md: needed ? "1fr 180px 1fr auto" : "1fr 180px auto" }} gap="3" alignItems="end">
        <TextField label="Name" required maxLength={120} value={form.name} onChange={(e) => put({ name: e.target.value })} />
        <SelectField label="Role" value={form.role} options={roles} onChange={(e) => put({ role: e.target.value as Role })} />
        {needed && (
          <TextField
            label="Interim passphrase"
            autoComplete="off"
            maxLength={512}
            value={form.passphrase}
            onChange={(e) => put({ passphrase: e.target.value })}
            placeholder="changed at the first sign-in"
          />
        )}
        <Button type="submit" loading={add.isPending}>
          Add
        </Button>
      </Grid>
      {add.error && <Problem error={add.error} />}
    </chakra.form>
  );
}

/** Where a tablet gets the certificate of the shop's authority: as a link, as a QR code, with the fingerprint to compare. */
function TabletLink() {
  const { data } = useQuery({ queryKey: ["tablet-link"], queryFn: ({ signal }) => answer(api.GET("/tablet-link", { signal })) });
  if (!data?.link || !data.side) return null;
  return (
    <Flex gap="5" py="3" align="start" wrap="wrap" borderTopWidth="1px" borderColor="line">
      <chakra.svg
        viewBox={`-4 -4 ${data.side + 8} ${data.side + 8}`}
        w="148px"
        h="148px"
        role="img"
        aria-label={`QR code of ${data.link}`}
        style={{ background: "#fff" }}
      >
        <path d={data.path} fill="#000" />
      </chakra.svg>
      <Box flex="1" minW="260px">
        <Text fontWeight="600">A tablet that does not trust the shop yet</Text>
        <Text>
          scans this, or opens <b>{data.link}</b>, and gets the certificate there. Compare the fingerprint that it shows:
        </Text>
        <chakra.code display="block" mt="1" textStyle="small" wordBreak="break-all">
          {data.fingerprint}
        </chakra.code>
      </Box>
    </Flex>
  );
}

function Devices({ session }: { session: Session }) {
  const client = useQueryClient();
  const may = session.rights.includes("manage");
  const { data } = useQuery({ queryKey: ["devices"], queryFn: ({ signal }) => answer(api.GET("/devices", { signal })), enabled: may });
  const [admit, setAdmit] = useState({ code: "", name: "" });
  const code = useMutation({ mutationFn: () => answer(api.POST("/device-codes")) });
  const entered = useEntered();
  const join = useMutation({ mutationFn: () => answer(api.POST("/devices", { body: admit })), onSuccess: entered });
  const remove = useMutation({
    mutationFn: (id: string) => answer(api.DELETE("/devices/{id}", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["devices"] }),
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    join.mutate();
  };
  return (
    <Section id="devices" title="Devices" about="At a device of the shop people change by PIN, and a passphrase reaches everything.">
      {may &&
        data?.map((d) => (
          <Flex key={d.id} align="center" gap="3" minH="44px" borderTopWidth="1px" borderColor="line" py="1" wrap="wrap">
            <Text fontWeight="600" w="180px">
              {d.name}
              {d.here && " (this one)"}
            </Text>
            <Text color="ink2" flex="1">
              admitted by {d.by}, {moment(d.at)}
              {d.seen && `; last sign-in ${moment(d.seen)}`}
            </Text>
            <Button variant="ghost" aria-label={`Take ${d.name} out`} onClick={() => remove.mutate(d.id)}>
              Take out
            </Button>
          </Flex>
        ))}
      {may && <TabletLink />}
      {session.device && session.rights.includes("sign") && (
        <Flex align="center" gap="4" py="3" wrap="wrap">
          <Button loading={code.isPending} onClick={() => code.mutate()}>
            Admit another device
          </Button>
          {code.data && (
            <Text>
              Type{" "}
              <chakra.code textStyle="figure" fontWeight="700" letterSpacing="2px">
                {code.data.code}
              </chakra.code>{" "}
              there, under Settings, People. Good once, until {clock(code.data.until)}.
            </Text>
          )}
        </Flex>
      )}
      {!session.device && (
        <form onSubmit={submit}>
          <Text mb="2">This device is not one of the shop’s. A code from one that is makes it so.</Text>
          <Grid templateColumns={{ base: "1fr", md: "200px 1fr auto" }} gap="3" alignItems="end">
            <TextField
              label="Code"
              required
              maxLength={20}
              autoComplete="off"
              value={admit.code}
              onChange={(e) => setAdmit({ ...admit, code: e.target.value })}
            />
            <TextField
              label="Name of this device"
              required
              maxLength={120}
              placeholder="such as Bay 2"
              value={admit.name}
              onChange={(e) => setAdmit({ ...admit, name: e.target.value })}
            />
            <Button type="submit" loading={join.isPending}>
              Admit this device
            </Button>
          </Grid>
        </form>
      )}
      {(code.error ?? join.error ?? remove.error) && <Problem error={code.error ?? join.error ?? remove.error} />}
    </Section>
  );
}

const mays: [string, string][] = [
  ["owner", "everything"],
  ["diagnostician", "all but settings, prices and people"],
  ["apprentice", "take-in, readings, checks, bench; a decision waits for a countersign"],
  ["front desk", "take-in, estimates, decisions, the week"],
];

function WhatEachMay() {
  return (
    <chakra.dl>
      {mays.map(([role, may]) => (
        <Box key={role} mb="1.5">
          <chakra.dt fontWeight="600" color="ink">
            {role}
          </chakra.dt>
          <dd>{may}</dd>
        </Box>
      ))}
    </chakra.dl>
  );
}

function Part({ title, about, children }: { title: string; about: ReactNode; children: ReactNode }) {
  return (
    <Section id="people" title={title} about={about}>
      {children}
    </Section>
  );
}

export function PeoplePage() {
  const { session } = useSession();
  const may = !!session && session.rights.includes("manage");
  const people = useQuery({ ...peopleQuery, enabled: may });
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="People" />
      <ShopPlaces title="People" />
      {session && !session.needed && <SetUp />}
      {session?.needed && <MyAccess session={session} />}
      {may && (
        <Part title="Who works here" about={<WhatEachMay />}>
          {people.error && <Problem error={people.error} retry={() => void people.refetch()} />}
          {!people.data && !people.error && <Loading what="the people" />}
          {people.data?.map((p) => (
            <Row key={p.id} person={p} session={session} />
          ))}
          {people.data && <NewPerson needed={session.needed} />}
        </Part>
      )}
      {session?.needed && !may && (
        <Part title="Who works here" about="For the owner.">
          <Text color="ink2">
            {session.person?.role === "owner"
              ? "This takes a passkey, or your passphrase at a device of the shop."
              : "The owner adds people and gives passphrases."}
          </Text>
        </Part>
      )}
      {session?.needed && <Devices session={session} />}
    </Box>
  );
}
