import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { answer, api, ProblemError, type Schemas } from "../../api/client";
import { backupQuery } from "../../api/queries";
import { age, moment, number } from "../../shared/format";
import { TextField } from "../../shared/fields";
import { Section } from "../../shared/Section";
import { useMay } from "../../shared/session";
import { ShopPlaces } from "../../shared/ShopPlaces";
import { Loading, Problem } from "../../shared/states";
import { Switch } from "../../shared/Switch";
import { Table } from "../../shared/Table";
import { Title } from "../../shared/Title";
import { useForm } from "../../shared/useForm";

type Backup = Schemas["Backup"];

/** How it stands, in one line: the eye finds that first. */
function Standing({ backup }: { backup: Backup }) {
  const bad = !backup.planned || backup.late || !backup.last;
  return (
    <Box role="status" bg={bad ? "faultSoft" : "window"} borderLeftWidth="4px" borderColor={bad ? "fault" : "good"} px="4" py="3" mb="2">
      <Text textStyle="heading" fontWeight="700">
        {!backup.planned
          ? "▲ No backup. If this disk dies, the shop’s memory is gone."
          : !backup.last
            ? "▲ No good backup yet"
            : `${bad ? "▲ " : "✓ "}Last good backup ${age(backup.last)} ago`}
      </Text>
      {backup.last && <Text color="ink2">{moment(backup.last)}: written, unpacked into a scratch folder, and looked at there.</Text>}
      {backup.late && <Text>It should be no older than {backup.every} hours. Look below for what went wrong.</Text>}
    </Box>
  );
}

function Plan({ backup }: { backup: Backup }) {
  const client = useQueryClient();
  const [form, put] = useForm({
    folder: backup.folder ?? "",
    every: String(backup.every),
    keep: String(backup.keep),
    encrypted: backup.encrypted,
    passphrase: "",
  });
  const save = useMutation({
    mutationFn: () =>
      answer(
        api.PUT("/backup", {
          params: { header: { "If-Match": backup.rev } },
          body: { ...form, every: Number(form.every), keep: Number(form.keep), passphrase: form.passphrase || undefined },
        }),
      ),
    onSuccess: (now) => {
      client.setQueryData(backupQuery.queryKey, now);
      put({ passphrase: "" });
    },
  });
  const problem = save.error instanceof ProblemError ? save.error.problem : undefined;
  const wrong = (field: string) => (problem?.field === field ? `${problem.detail}. Accepted: ${problem.accepted}` : undefined);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <Section id="plan" title="Plan" about="On another disk or machine: what takes the one must not take the other.">
      <form onSubmit={submit}>
        <Grid templateColumns={{ base: "1fr", md: "2fr 1fr 1fr" }} gap="4" alignItems="start">
          <TextField
            label="Folder on this machine"
            required
            maxLength={400}
            placeholder="/mnt/backup"
            value={form.folder}
            onChange={(e) => put({ folder: e.target.value })}
            error={wrong("folder")}
          />
          <TextField
            label="Every, hours"
            required
            inputMode="numeric"
            value={form.every}
            onChange={(e) => put({ every: e.target.value.replace(/\D/g, "") })}
            help="0: only by hand"
            error={wrong("every")}
          />
          <TextField
            label="Keep"
            required
            inputMode="numeric"
            value={form.keep}
            onChange={(e) => put({ keep: e.target.value.replace(/\D/g, "") })}
            error={wrong("keep")}
          />
        </Grid>
        <Box maxW="520px" mt="4">
          <TextField
            label={backup.planned ? "Another passphrase, for the backups from now on" : "Passphrase"}
            required={!backup.planned}
            type="text"
            autoComplete="off"
            maxLength={512}
            value={form.passphrase}
            onChange={(e) => put({ passphrase: e.target.value })}
            help="At least 12 characters. Without it nobody opens a backup, you neither. Write it down and keep it apart."
            error={wrong("passphrase")}
          />
        </Box>
        <Switch on={form.encrypted} set={(encrypted) => put({ encrypted })}>
          Encrypt everything. The keys always are.
        </Switch>
        {save.isError && !problem?.field && <Problem error={save.error} />}
        <Flex gap="4" align="center" mt="2">
          <Button type="submit" variant="solid" loading={save.isPending}>
            Save the plan
          </Button>
          <Text role="status" color="good">
            {save.isSuccess && "✓ saved"}
          </Text>
        </Flex>
      </form>
    </Section>
  );
}

const size = (bytes: number) => (bytes < 1e6 ? `${number(bytes / 1e3)} kB` : `${number(bytes / 1e6, 1)} MB`);

function Runs({ backup }: { backup: Backup }) {
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => answer(api.POST("/backup")),
    onSuccess: (now) => client.setQueryData(backupQuery.queryKey, now),
  });
  return (
    <Section id="runs" title="Made so far" about="A picture is written once; each backup can give all of them back.">
      <Button loading={make.isPending} disabled={!backup.planned} onClick={() => make.mutate()}>
        Back up now
      </Button>
      {make.error && <Problem error={make.error} />}
      {backup.runs.length > 0 && (
        <Box mt="3">
          <Table
            label="Backups made"
            head={["when", "how it went", ">size", ">pictures", ">took"]}
            rows={backup.runs.map((r) => [
              moment(r.at),
              r.good ? (
                `✓ good, ${r.file}`
              ) : (
                <Text key="why" color="fault" fontWeight="600">
                  ✕ failed: {r.why}
                </Text>
              ),
              r.good ? size(r.bytes) : "",
              r.good ? number(r.pictures) : "",
              `${number(r.took, 1)} s`,
            ])}
          />
        </Box>
      )}
    </Section>
  );
}

/** The second machine: what it has, or how one is kept. */
function Reserve({ reserve }: { reserve: Backup["reserve"] }) {
  if (!reserve)
    return (
      <Section id="reserve" title="A second machine" about="It follows this one, and goes on when this one dies. None is kept.">
        <Text>
          Share an empty folder of the second machine, mount it here, and start with <code>innercompass serve --reserve FOLDER</code>. On
          the second: <code>innercompass reserve follow --from FOLDER --data DIR</code>
        </Text>
      </Section>
    );
  const bad = reserve.late || reserve.promoted;
  return (
    <Section id="reserve" title="A second machine" about="It follows this one, and goes on when this one dies.">
      <Box role="status" bg={bad ? "faultSoft" : "window"} borderLeftWidth="4px" borderColor={bad ? "fault" : "good"} px="4" py="3" mb="3">
        <Text fontWeight="700">
          {reserve.promoted
            ? "▲ It took over. Nothing is saved here any more."
            : !reserve.at
              ? "▲ Nothing has come there yet"
              : bad
                ? `▲ It holds what was saved until ${moment(reserve.at)}`
                : "✓ It holds everything but the last seconds"}
        </Text>
        {reserve.why && <Text>{reserve.why}</Text>}
        {!reserve.promoted && reserve.at && (
          <Text color="ink2">
            {reserve.pictures === 1 ? "1 picture" : `${number(reserve.pictures)} pictures`}, in {reserve.folder}
          </Text>
        )}
        {!reserve.promoted && !reserve.keys && (
          <Text fontWeight="600">▲ The shop’s keys are not there. They go along once a backup is planned: its passphrase locks them.</Text>
        )}
      </Box>
      {!reserve.promoted && (
        <>
          <Text fontWeight="600">When this machine is dead: first make sure that nobody works here any more.</Text>
          <Text>
            Then on the second: <code>innercompass reserve promote --data DIR</code>
          </Text>
          <Text color="ink2">It asks for the passphrase of the backups.</Text>
        </>
      )}
    </Section>
  );
}

/** Backups: how they stand, when and where to, what was made; how to put one back. */
export function BackupPage() {
  const { data, error, refetch } = useQuery(backupQuery);
  const may = useMay("manage");
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="Backup" />
      <ShopPlaces title="Backup" />
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the backups" />}
      {data && (
        <>
          <Standing backup={data} />
          {may ? (
            <>
              <Plan key={data.rev} backup={data} />
              <Runs backup={data} />
              <Reserve reserve={data.reserve} />
              <Section
                id="archive"
                title="Everything in open form"
                about="For another program, or to leave: tables, sheets, prices, cases, records, pictures. Whoever has the file can read all of it."
              >
                <Button asChild>
                  <a href="/api/archive" download>
                    Save everything
                  </a>
                </Button>
              </Section>
              <Section id="restore" title="Putting one back" about="At the machine, with the app stopped.">
                <Text>
                  <code>innercompass restore FILE --data DIR</code>
                </Text>
                <Text color="ink2">
                  It asks for the passphrase, and refuses a file that is not whole. What was in DIR is kept beside it under another name.
                </Text>
              </Section>
            </>
          ) : (
            <Text color="ink2">The owner looks after backups.</Text>
          )}
        </>
      )}
    </Box>
  );
}
