import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "@tanstack/react-router";
import { Download, Printer } from "lucide-react";
import { type RefObject, useEffect, useRef, useState } from "react";
import { type Schemas, Unanswered } from "../api/client";
import { reportQuery } from "../api/office";
import { TopBar } from "../frame/TopBar";
import { useQueue } from "../queue/useQueue";
import { SelectField } from "../shell/fields";
import { Loading } from "../shell/Loading";
import { useTitle } from "../shell/useTitle";
import { when } from "../shell/when";
import { useUnits } from "../units/UnitSystem";
import { SignForm } from "./SignForm";

type Head = Schemas["ReportHead"];

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The report as it prints; beside it who signed, who may sign, and the way to take it along. */
export function ReportPage() {
  const { visitId } = useParams({ from: "/inside/visits/$visitId/report" });
  const query = useQuery(reportQuery(visitId));
  const { waiting } = useQueue();
  const here = waiting.filter((row) => row.visit === visitId).length;
  const { refetch } = query;
  // What this device still holds is no part of the report: once it went, the report is asked for anew.
  useEffect(() => {
    if (here === 0) void refetch();
  }, [here, refetch]);
  useTitle("Report", query.data?.system, query.data?.site);
  return (
    <div className="flex h-full flex-col">
      <TopBar
        place={
          query.data && (
            <span>
              {query.data.site}, {query.data.system}
            </span>
          )
        }
      />
      <Loading query={query} what="this report">
        {(head) => (
          <>
            {here > 0 && (
              <p role="status" className="border-warning border-l-4 bg-base-200 p-3">
                {here === 1 ? "One entry" : `${here} entries`} of this visit still{" "}
                {here === 1 ? "waits" : "wait"} on this device, and {here === 1 ? "is" : "are"} not in this
                report yet.
              </p>
            )}
            <Shown head={head} />
          </>
        )}
      </Loading>
    </div>
  );
}

function Shown({ head }: { head: Head }) {
  const { system } = useUnits();
  const newest = head.editions.at(-1);
  const [edition, setEdition] = useState<string | undefined>();
  const chosen = edition ?? (newest?.current ? String(newest.number) : "0");
  const frame = useRef<HTMLIFrameElement>(null);
  const opened = useRef(head.number);
  const query = `edition=${chosen}&units=${system}&zone=${encodeURIComponent(ZONE)}`;
  const base = `/api/v1/visits/${head.visit}/report`;
  // The page inside is asked for anew when the visit has gone on, or somebody signed.
  const state = `${head.number}-${head.editions.map((each) => each.signatures.length).join("")}`;
  return (
    <main
      className="flex-1 overflow-y-auto wide:grid wide:grid-cols-[minmax(0,1fr)_20rem] wide:overflow-hidden"
      tabIndex={-1}
    >
      <h1 className="sr-only">
        Report: {head.system}, {head.site}
      </h1>
      <Paper key={`${query} ${state}`} source={`${base}/page?${query}`} frame={frame} />
      <a href="#sign" className="btn btn-primary touch sticky bottom-2 z-10 mx-2 flex text-base wide:hidden">
        Sign it, or take it along
      </a>
      <aside
        id="sign"
        className="space-y-4 border-base-300 p-4 wide:overflow-y-auto wide:border-l"
        aria-label="Signing and taking along"
      >
        <State head={head} />
        {head.number !== opened.current && (
          <p role="status" className="border-warning border-l-4 bg-base-200 p-3">
            Something was added to this visit since you looked. Here is the report as it is now: read it
            before you sign.
          </p>
        )}
        {head.editions.length > 0 && (
          <SelectField
            label="Shown"
            value={chosen}
            onChange={setEdition}
            options={[
              ...(newest?.current ? [] : [{ key: "0", name: "As the visit is now, not signed" }]),
              ...[...head.editions].reverse().map((each) => ({
                key: String(each.number),
                name: `Edition ${each.number}, ${when(each.made_at)}`,
              })),
            ]}
          />
        )}
        <div className="grid gap-2">
          <Pdf address={`${base}/pdf?${query}`} />
          <button type="button" className="btn touch" onClick={() => frame.current?.contentWindow?.print()}>
            <Printer size={18} aria-hidden="true" /> Print
          </button>
          {chosen !== "0" && (
            <a className="btn touch" href={`/api/v1/visits/${head.visit}/editions/${chosen}`} download>
              <Download size={18} aria-hidden="true" /> Signed file (JSON)
            </a>
          )}
        </div>
        {head.technician === "" && <SignForm key={`t${state}`} head={head} as="technician" />}
        {head.lead === "" && <SignForm key={`l${state}`} head={head} as="lead" />}
        <p className="flex flex-wrap gap-x-4">
          <Link
            to="/visits/$visitId"
            params={{ visitId: String(head.visit) }}
            className="inline-flex min-h-12 items-center underline"
          >
            Back to the visit
          </Link>
          <Link to="/verify" className="inline-flex min-h-12 items-center underline">
            Check a fingerprint
          </Link>
        </p>
      </aside>
    </main>
  );
}

/** As tall as the report is on a phone, where the page scrolls; beside the rail it scrolls itself. */
function Paper({ source, frame }: { source: string; frame: RefObject<HTMLIFrameElement | null> }) {
  const [height, setHeight] = useState(700);
  const measure = () => {
    const body = frame.current?.contentDocument?.body;
    if (body) setHeight(Math.ceil(body.getBoundingClientRect().height) + 16);
  };
  return (
    <iframe
      ref={frame}
      src={source}
      title="The report"
      className="block w-full bg-white wide:h-full!"
      style={{ height }}
      onLoad={() => {
        measure();
        // Once more with our own letters in it.
        void frame.current?.contentDocument?.fonts.ready.then(measure);
      }}
    />
  );
}

/** What there is of signatures, in one sentence, and what comes next. */
function State({ head }: { head: Head }) {
  const newest = head.editions.at(-1);
  const signed = newest?.current ? newest : undefined;
  return (
    <section aria-label="Signed">
      <p className="font-semibold text-2xl leading-tight">
        {signed
          ? signed.signatures.length > 1
            ? "Signed and countersigned"
            : "Signed by the technician"
          : newest
            ? "Changed since it was signed"
            : head.closed
              ? "Not signed yet"
              : "The visit is still open"}
      </p>
      {signed?.signatures.map((each) => (
        <p key={each.signed_as}>
          {each.name}, {each.signed_as}, {when(each.signed_at)}
        </p>
      ))}
      {signed && (
        <p className="mt-2 text-sm">
          Fingerprint <code className="block break-all font-mono">{signed.fingerprint}</code>
        </p>
      )}
      {!signed && newest && (
        <p className="quiet">
          Edition {newest.number} stays as it was signed. What is there now needs a new signature.
        </p>
      )}
      {[...new Set([head.technician, head.lead])]
        .filter((why) => why !== "" && !why.endsWith("already."))
        .map((why) => (
          <p key={why} className="quiet">
            {why}
          </p>
        ))}
    </section>
  );
}

/** Made on the server; that it takes a moment is said. */
function Pdf({ address }: { address: string }) {
  const [state, setState] = useState<"" | "making" | "failed">("");
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  const fetchIt = async () => {
    setState("making");
    try {
      const answer = await fetch(address, { credentials: "same-origin" });
      if (!answer.ok) throw new Unanswered(answer.status, undefined);
      const named = /filename="([^"]+)"/.exec(answer.headers.get("content-disposition") ?? "")?.[1];
      const link = document.createElement("a");
      link.href = URL.createObjectURL(await answer.blob());
      link.download = named ?? "report.pdf";
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
      if (!gone.current) setState("");
    } catch {
      if (!gone.current) setState("failed");
    }
  };
  return (
    <>
      <button
        type="button"
        className="btn btn-primary touch text-base"
        disabled={state === "making"}
        onClick={() => void fetchIt()}
      >
        <Download size={18} aria-hidden="true" />
        {state === "making" ? "Setting the pages …" : "PDF for the customer"}
      </button>
      {state === "failed" && (
        <p role="alert">The PDF did not come. Try again; without signal, print this page instead.</p>
      )}
    </>
  );
}
