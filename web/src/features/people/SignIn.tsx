import { Box, Button, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { browserSupportsWebAuthn, startAuthentication, type PublicKeyCredentialRequestOptionsJSON } from "@simplewebauthn/browser";
import { useMutation } from "@tanstack/react-query";
import { KeyRound } from "lucide-react";
import { useEffect, useState, type FormEvent } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { TextField } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { Switch } from "../../shared/Switch";
import { Title } from "../../shared/Title";
import { PinPad } from "./PinPad";
import { roleNames, useEntered, useSignOut, type Session } from "../../shared/session";

type Tile = Schemas["Tile"];

/** Keeps what is typed here from the page beneath, whose single keys would act on it. */
function useKeysHeld() {
  useEffect(() => {
    const hold = (e: KeyboardEvent) => e.stopPropagation();
    for (const kind of ["keydown", "keyup"] as const) window.addEventListener(kind, hold, true);
    return () => {
      for (const kind of ["keydown", "keyup"] as const) window.removeEventListener(kind, hold, true);
    };
  }, []);
}

/** Covers the page until somebody has signed in; what was typed on it stays beneath. */
export function SignIn({ session }: { session: Session }) {
  useKeysHeld();
  return (
    <Box
      position="fixed"
      inset="0"
      zIndex="30"
      bg="page"
      overflowY="auto"
      px="4"
      py={{ base: "6", md: "12" }}
      role="dialog"
      aria-modal="true"
      aria-label="Sign in"
    >
      <Title of="Sign in" />
      <Box maxW="440px" mx="auto">
        {session.change ? <ChooseOwn session={session} /> : <Ways session={session} />}
      </Box>
    </Box>
  );
}

function Head({ title, children }: { title: string; children?: string }) {
  return (
    <Box mb="5">
      <Text as="h1" textStyle="title" fontWeight="700">
        {title}
      </Text>
      {children && <Text color="ink2">{children}</Text>}
    </Box>
  );
}

function Ways({ session }: { session: Session }) {
  const [who, setWho] = useState<Tile>();
  const [byPhrase, setByPhrase] = useState(session.people.length === 0);
  const enterPage = useEntered();
  const [told, setTold] = useState<Session>();
  const entered = (s: Session) => (s.told ? setTold(s) : enterPage(s));
  const enter = useMutation({ mutationFn: (body: Schemas["SignIn"]) => answer(api.POST("/session", { body })), onSuccess: entered });
  const passkey = useMutation({
    mutationFn: async () => {
      const { id, options } = await answer(api.POST("/session/passkey"));
      const given = await startAuthentication({ optionsJSON: options as unknown as PublicKeyCredentialRequestOptionsJSON });
      return answer(api.POST("/session", { body: { challenge: id, answer: given as unknown as Record<string, unknown> } }));
    },
    onSuccess: entered,
  });
  const other = (set: () => void) => () => {
    enter.reset();
    passkey.reset();
    set();
  };
  const where = session.device ? `At ${session.device}` : "At a device that is not one of the shop’s";
  if (told)
    return (
      <>
        <Head title={`Hello, ${told.person?.name ?? ""}`}>{`Since you signed in last: ${told.told ?? ""}. Not you? Tell the owner.`}</Head>
        <Button variant="solid" w="full" onClick={() => enterPage(told)}>
          Go on
        </Button>
      </>
    );
  if (who)
    return (
      <>
        <Head title={who.name}>{`${where}. Type your PIN.`}</Head>
        {enter.error && <Problem error={enter.error} />}
        <PinPad name={who.name} busy={enter.isPending} send={(pin) => enter.mutate({ person: who.id, pin })} />
        <Button mt="4" variant="ghost" w="full" onClick={other(() => setWho(undefined))}>
          Somebody else
        </Button>
      </>
    );
  return (
    <>
      <Head title={byPhrase ? "Sign in" : "Who is here?"}>{where}</Head>
      {(enter.error || passkey.error) && <Problem error={enter.error ?? passkey.error} />}
      {byPhrase ? (
        <PhraseForm busy={enter.isPending} send={(name, passphrase) => enter.mutate({ name, passphrase })} />
      ) : (
        <Grid templateColumns="1fr 1fr" gap="2">
          {session.people.map((p) => (
            <chakra.button
              key={p.id}
              type="button"
              textAlign="left"
              minH="72px"
              px="4"
              bg="panel"
              borderWidth="1px"
              borderColor="slate"
              borderRadius="6px"
              onClick={() => setWho(p)}
            >
              <Text textStyle="heading" fontWeight="700">
                {p.name}
              </Text>
              <Text color="ink2" textStyle="small">
                {roleNames[p.role]}
              </Text>
            </chakra.button>
          ))}
        </Grid>
      )}
      <Flex direction="column" gap="2" mt="4">
        {session.passkeys && browserSupportsWebAuthn() && (
          <Button w="full" loading={passkey.isPending} onClick={() => passkey.mutate()}>
            <KeyRound size={18} aria-hidden /> Use a passkey
          </Button>
        )}
        {session.people.length > 0 && (
          <Button variant="ghost" w="full" onClick={other(() => setByPhrase(!byPhrase))}>
            {byPhrase ? "Use a PIN" : "Use name and passphrase"}
          </Button>
        )}
      </Flex>
      <Text color="ink2" textStyle="small" mt="6">
        Cannot get in? The owner gives you another passphrase. An owner finds the way back at the machine: innercompass people.
      </Text>
    </>
  );
}

function PhraseForm({ busy, send }: { busy: boolean; send: (name: string, passphrase: string) => void }) {
  const [name, setName] = useState("");
  const [phrase, setPhrase] = useState("");
  const [seen, setSeen] = useState(false);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    send(name, phrase);
  };
  return (
    <chakra.form onSubmit={submit} display="flex" flexDir="column" gap="4">
      <TextField
        label="Name"
        required
        autoFocus
        autoComplete="username"
        maxLength={120}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <TextField
        label="Passphrase"
        required
        type={seen ? "text" : "password"}
        autoComplete="current-password"
        maxLength={512}
        value={phrase}
        onChange={(e) => setPhrase(e.target.value)}
      />
      <Switch on={seen} set={setSeen}>
        Show it
      </Switch>
      <Button type="submit" variant="solid" loading={busy}>
        Sign in
      </Button>
    </chakra.form>
  );
}

/** The passphrase was given by somebody else: the first thing to do is to choose one's own. */
function ChooseOwn({ session }: { session: Session }) {
  const entered = useEntered();
  const out = useSignOut();
  const [old, setOld] = useState("");
  const [phrase, setPhrase] = useState("");
  const change = useMutation({
    mutationFn: async () => {
      await answer(api.PUT("/me/passphrase", { body: { old, passphrase: phrase } }));
      return answer(api.GET("/session"));
    },
    onSuccess: entered,
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate();
  };
  return (
    <>
      <Head title={`Welcome, ${session.person?.name ?? ""}`}>Your passphrase came from somebody else. Choose your own.</Head>
      <chakra.form onSubmit={submit} display="flex" flexDir="column" gap="4">
        <TextField
          label="The one you were given"
          required
          type="password"
          autoComplete="current-password"
          maxLength={512}
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
        <TextField
          label="Your own"
          required
          type="text"
          autoComplete="new-password"
          maxLength={512}
          value={phrase}
          onChange={(e) => setPhrase(e.target.value)}
          help="At least 12 characters. Four words that do not belong together are good."
        />
        {change.error && <Problem error={change.error} />}
        <Button type="submit" variant="solid" loading={change.isPending}>
          Use it
        </Button>
        <Button variant="ghost" onClick={() => out.mutate()}>
          Sign out
        </Button>
      </chakra.form>
    </>
  );
}
