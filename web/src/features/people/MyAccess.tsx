import { Box, Button, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { browserSupportsWebAuthn, startRegistration, type PublicKeyCredentialCreationOptionsJSON } from "@simplewebauthn/browser";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answer, api } from "../../api/client";
import { sessionQuery } from "../../api/queries";
import { moment } from "../../shared/format";
import { TextField } from "../../shared/fields";
import { Section } from "../../shared/Section";
import { Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import type { Session } from "../../shared/session";

/** A change of one's own access; the session and the list of sessions are fetched again. */
function useAccess<V>(change: (v: V) => Promise<unknown>, done?: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => {
      done?.();
      void client.invalidateQueries({ queryKey: sessionQuery.queryKey });
      void client.invalidateQueries({ queryKey: ["my-sessions"] });
    },
  });
}

function Done({ when }: { when: boolean }) {
  return (
    <Text role="status" color="good" textStyle="note">
      {when ? "✓ done" : ""}
    </Text>
  );
}

function Passphrase() {
  const [old, setOld] = useState("");
  const [phrase, setPhrase] = useState("");
  const change = useAccess(
    () => answer(api.PUT("/me/passphrase", { body: { old, passphrase: phrase } })),
    () => (setOld(""), setPhrase("")),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate(undefined);
  };
  return (
    <form onSubmit={submit}>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr auto" }} gap="3" alignItems="end">
        <TextField
          label="Passphrase now"
          type="password"
          autoComplete="current-password"
          maxLength={512}
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
        <TextField
          label="New passphrase"
          required
          autoComplete="new-password"
          maxLength={512}
          value={phrase}
          onChange={(e) => setPhrase(e.target.value)}
        />
        <Button type="submit" loading={change.isPending}>
          Change it
        </Button>
      </Grid>
      <Text color="ink2" textStyle="small" mt="1">
        At least 12 characters. Everywhere else you are signed out.
      </Text>
      {change.error && <Problem error={change.error} />}
      <Done when={change.isSuccess} />
    </form>
  );
}

function Pin({ has }: { has: boolean }) {
  const [pin, setPin] = useState("");
  const change = useAccess(
    (value: string) => answer(api.PUT("/me/pin", { body: { pin: value } })),
    () => setPin(""),
  );
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate(pin);
  };
  return (
    <form onSubmit={submit}>
      <Flex gap="3" align="end" wrap="wrap">
        <Box w="180px">
          <TextField
            label={has ? "New PIN" : "PIN"}
            required
            inputMode="numeric"
            pattern="[0-9]{6}"
            maxLength={6}
            autoComplete="off"
            value={pin}
            onChange={(e) => setPin(e.target.value.replace(/\D/g, ""))}
          />
        </Box>
        <Button type="submit" loading={change.isPending}>
          {has ? "Change the PIN" : "Set a PIN"}
        </Button>
        {has && (
          <Button variant="ghost" onClick={() => change.mutate("")}>
            Give it up
          </Button>
        )}
      </Flex>
      <Text color="ink2" textStyle="small" mt="1">
        Six digits, for quick change of person at devices of the shop. No rows, no dates.
      </Text>
      {change.error && <Problem error={change.error} />}
      <Done when={change.isSuccess} />
    </form>
  );
}

function Passkeys({ session }: { session: Session }) {
  const [name, setName] = useState("");
  const add = useAccess(
    async () => {
      const { id, options } = await answer(api.POST("/me/passkeys"));
      const made = await startRegistration({ optionsJSON: options as unknown as PublicKeyCredentialCreationOptionsJSON });
      return answer(api.PUT("/me/passkeys", { body: { challenge: id, name, answer: made as unknown as Record<string, unknown> } }));
    },
    () => setName(""),
  );
  const remove = useAccess((passkey: string) => answer(api.DELETE("/me/passkeys/{passkey}", { params: { path: { passkey } } })));
  const mine = session.person?.passkeys ?? [];
  const can = session.passkeys && browserSupportsWebAuthn();
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate(undefined);
  };
  return (
    <Box>
      {mine.map((k) => (
        <Flex key={k.id} align="center" gap="3" minH="44px" borderTopWidth="1px" borderColor="line" py="1" wrap="wrap">
          <Text fontWeight="600" w="180px">
            {k.name}
          </Text>
          <Text color="ink2" flex="1">
            for {k.host}, made {moment(k.at)}; {k.used ? `used ${moment(k.used)}` : "not used yet"}
          </Text>
          <Button variant="ghost" aria-label={`Remove passkey ${k.name}`} onClick={() => remove.mutate(k.id)}>
            Remove
          </Button>
        </Flex>
      ))}
      {can ? (
        <chakra.form onSubmit={submit} display="flex" gap="3" alignItems="end" flexWrap="wrap" mt="2">
          <Box w="260px">
            <TextField
              label="Name of the passkey"
              required
              placeholder="such as my phone"
              maxLength={120}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </Box>
          <Button type="submit" loading={add.isPending}>
            Add a passkey
          </Button>
        </chakra.form>
      ) : (
        <Text color="ink2">
          {session.passkeys ? "This browser knows no passkeys." : "A passkey belongs to a name: open the app by one, not by its number."}
        </Text>
      )}
      {(add.error ?? remove.error) && <Problem error={add.error ?? remove.error} />}
    </Box>
  );
}

const hows: Record<string, string> = { passphrase: "passphrase", passkey: "passkey", pin: "PIN" };

function Sessions() {
  const { data } = useQuery({ queryKey: ["my-sessions"], queryFn: ({ signal }) => answer(api.GET("/me/sessions", { signal })) });
  const end = useAccess((session: string) => answer(api.DELETE("/me/sessions/{session}", { params: { path: { session } } })));
  return (
    <Table
      label="Where you are signed in"
      head={["by", "device", "since", "last used", ""]}
      rows={(data ?? []).map((s) => [
        hows[s.how] ?? s.how,
        s.device || "not one of the shop’s",
        moment(s.begun),
        s.here ? "here, now" : moment(s.seen),
        s.here ? (
          ""
        ) : (
          <Button key="x" variant="ghost" onClick={() => end.mutate(s.id)}>
            End it
          </Button>
        ),
      ])}
    />
  );
}

/** What is one's own: passphrase, PIN, passkeys, where one is signed in. */
export function MyAccess({ session }: { session: Session }) {
  if (!session.person) return null;
  if (session.how === "pin")
    return (
      <Section id="me" title="Your access" about={session.person.name}>
        <Text color="ink2">You signed in by PIN. To change your access, sign in with passphrase or passkey.</Text>
      </Section>
    );
  return (
    <Section id="me" title="Your access" about={session.person.name}>
      <Flex direction="column" gap="5">
        <Passphrase />
        <Pin has={session.person.pin} />
        <Passkeys session={session} />
        <Sessions />
      </Flex>
    </Section>
  );
}
