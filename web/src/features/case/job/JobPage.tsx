import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { caseQuery } from "../../../api/queries";
import { SelectField } from "../../../shared/fields";
import { weekMoment } from "../../../shared/format";
import { Empty, Loading, Problem } from "../../../shared/states";
import { Title } from "../../../shared/Title";
import { CaseFrame } from "../CaseFrame";
import { CaseHead } from "../CaseHead";
import { CaseProvider } from "../CaseProvider";
import { useCase } from "../useCase";
import { Parts } from "./Parts";
import { Promised } from "./Promise";
import { Tasks } from "./Tasks";
import { useJob, type Job } from "./useJob";

export function JobPage() {
  const { id = "" } = useParams();
  const { data, error, refetch } = useQuery(caseQuery(id));
  if (error && !data)
    return (
      <Box as="main" px="5" pt="4">
        <Text as="h1" textStyle="title" fontWeight="700">
          Job
        </Text>
        <Problem error={error} retry={() => void refetch()} />
      </Box>
    );
  if (!data) return <CaseFrame id={id} stage="job" />;
  return (
    <CaseProvider key={id} shown={data}>
      <CaseHead stage="job" />
      <OpenJob />
    </CaseProvider>
  );
}

/** Which work the job is of, where it lies in the week, and its papers. */
function Head({ work }: { work: ReturnType<typeof useJob> }) {
  const { shown } = useCase();
  const job = work.job.data!;
  const query = work.option ? `?option=${encodeURIComponent(work.option)}` : "";
  const planned = !!job.slot;
  return (
    <Flex justify="space-between" align="end" wrap="wrap" gap="4" mb="4">
      <Box flex="1 1 320px" maxW="560px">
        {job.agreed && !work.option ? (
          <>
            <Text textStyle="small" color="ink2" fontWeight="600">
              Agreed
            </Text>
            <Text as="h2" textStyle="heading" fontWeight="700">
              {job.works.map((w) => w.title).join(" + ")}
            </Text>
          </>
        ) : (
          <SelectField
            label="Work, not agreed yet"
            value={job.works[0]?.id ?? ""}
            options={job.options.map((o): [string, string] => [o.id, o.title])}
            onChange={(e) => work.setOption(e.target.value)}
          />
        )}
      </Box>
      <Flex gap="2" wrap="wrap" data-noprint>
        {planned ? (
          <Button asChild variant="solid">
            <Link to="/week">
              In the week: {job.slot!.bay}, {weekMoment(job.slot!.from)}
            </Link>
          </Button>
        ) : (
          !shown.closed && (
            <Button
              variant="solid"
              loading={work.settle.isPending}
              onClick={() => work.settle.mutate({ option: job.agreed ? "" : (job.works[0]?.id ?? "") })}
            >
              Put it in the week
            </Button>
          )
        )}
        {planned && !job.agreed && work.option && work.option !== job.settled.option && !shown.closed && (
          <Button loading={work.settle.isPending} onClick={() => work.settle.mutate({ option: work.option })}>
            Plan this work instead
          </Button>
        )}
        <Button asChild>
          <a href={`/api/cases/${shown.id}/job/sheet${query}`} target="_blank" rel="noreferrer">
            Job sheet
          </a>
        </Button>
        <Button asChild>
          <a href={`/api/cases/${shown.id}/job/parts${query}`} download>
            Parts list
          </a>
        </Button>
      </Flex>
    </Flex>
  );
}

function Planned({ job, work }: { job: Job; work: ReturnType<typeof useJob> }) {
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) 400px" }} columnGap="8" rowGap="5">
      <Box minW="0">
        {job.promise && <Promised promise={job.promise} />}
        <Box mt="5">
          <Tasks job={job} />
        </Box>
      </Box>
      <Parts job={job} saving={work.settle.isPending} put={(stock) => work.settle.mutate({ stock })} />
    </Grid>
  );
}

/** The work of the case: when it is done, step by step, with which parts. */
function OpenJob() {
  const { shown } = useCase();
  const work = useJob();
  const { data, error, refetch } = work.job;
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" minW="0">
      <Title of={`Job, ${shown.vehicle}`} />
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the job" rows={8} />}
      {work.settle.isError && <Problem error={work.settle.error} />}
      {data && data.tasks.length === 0 && (
        <Empty title="No work is planned">
          <Text>
            Nothing that is offered now is work at the vehicle. <Link to={`/cases/${shown.id}/decision`}>See the options.</Link>
          </Text>
        </Empty>
      )}
      {data && data.tasks.length > 0 && (
        <>
          <Head work={work} />
          <Planned job={data} work={work} />
        </>
      )}
    </Box>
  );
}
