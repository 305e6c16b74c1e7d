import { useEffect, useState } from "react";
import { answer, api, isAway, type Schemas } from "../api/client";
import { answered, keyOf } from "../api/keys";
import { amount, longMoment, percent, setNotation, short } from "../shared/format";
import { problemWords } from "../shared/problemWords";
import { SignatureStrokes } from "../shared/SignatureStrokes";
import { useForm } from "../shared/useForm";
import { patient } from "./patient";

type Approval = Schemas["Approval"];
type Option = Schemas["OfferedOption"];

const ended: Record<string, [string, string]> = {
  expired: ["This offer has ended.", "Ask the shop for a new one."],
  replaced: ["This offer was replaced.", "The shop has made a newer one, or recorded your answer already. Ask it if you are not sure."],
  stale: ["This offer no longer holds.", "The vehicle or the prices were looked at again since. Ask the shop for a new one."],
};

function Problem({ error }: { error: unknown }) {
  const w = problemWords(error);
  return (
    <div role="alert" className="note fault">
      <strong>{w.title}</strong>
      {w.detail && <p>{w.detail}</p>}
      {w.accepted && <p className="quiet">Accepted: {w.accepted}</p>}
    </div>
  );
}

function OptionCard({ o, currency, picked, pick }: { o: Option; currency: string; picked: boolean; pick: () => void }) {
  const priced = o.missing.length === 0;
  return (
    <div className="card" data-picked={picked || undefined}>
      <button type="button" role="radio" aria-checked={picked} disabled={!priced} onClick={pick}>
        <span className="row">
          <span className="title">{o.title}</span>
          <span className="price">{priced ? amount(currency, o.pay) : "not priced"}</span>
        </span>
        <span className="quiet">
          {o.advised && <b>advised by the shop · </b>}
          cures what was found in {percent(o.cured)} of 100 such vehicles
        </span>
        {o.hazard && <span className="row hazard">▲ {o.hazard}</span>}
      </button>
      {o.lines.length > 0 && (
        <details>
          <summary>What is in it</summary>
          {o.lines.map((l, i) => (
            <div key={i} className="row">
              <span>
                {l.title}
                {l.per && `, ${short(l.count)} ${l.per}`}
              </span>
              <span>{amount(currency, l.total)}</span>
            </div>
          ))}
          {o.tax > 0 && (
            <div className="row">
              <span>tax</span>
              <span>{amount(currency, o.tax)}</span>
            </div>
          )}
        </details>
      )}
    </div>
  );
}

const choices = [
  ["accepted", "I agree to it"],
  ["declined", "I decline it"],
] as const;

/** The answer: an option taken or all of them declined, by name, signed if one likes. */
function AnswerForm({ data, token, took, refused }: { data: Approval; token: string; took: (now: Approval) => void; refused: () => void }) {
  const priced = data.options.filter((o) => o.missing.length === 0);
  const [option, setOption] = useState(() => (priced.find((o) => o.advised) ?? priced[0])?.id ?? "");
  const [form, put] = useForm({ choice: "accepted" as "accepted" | "declined", name: "", words: "", signature: "" });
  const [sending, setSending] = useState(false);
  const [error, setError] = useState<unknown>();
  const body = { ...form, option, signature: form.signature || undefined };
  const send = async () => {
    const key = keyOf(token, body);
    setSending(true);
    setError(undefined);
    try {
      const params = { path: { token }, header: { "Idempotency-Key": key } };
      const now = await patient(() => answer(api.POST("/approvals/{token}", { params, body })), 20);
      answered(token, key);
      took(now);
    } catch (e) {
      if (!isAway(e)) answered(token, key);
      setError(e);
      refused();
    } finally {
      setSending(false);
    }
  };
  const chosen = data.options.find((o) => o.id === option);
  return (
    <>
      <div role="radiogroup" aria-label="What can be done">
        {data.options.map((o) => (
          <OptionCard key={o.id} o={o} currency={data.currency} picked={o.id === option} pick={() => setOption(o.id)} />
        ))}
      </div>
      {data.cautions.length > 0 && (
        <div className="note fault" role="note" aria-label="If it is driven on">
          {data.cautions.map((c) => (
            <p key={c}>▲ {c}</p>
          ))}
        </div>
      )}
      <section aria-label="Your answer">
        <h2>Your answer</h2>
        <div className="choice" role="radiogroup" aria-label="Your answer">
          {choices.map(([id, title]) => (
            <button key={id} type="button" role="radio" aria-checked={form.choice === id} onClick={() => put({ choice: id })}>
              {title}
            </button>
          ))}
        </div>
        <div className="fields">
          <label>
            <span>
              Your name <small className="quiet">needed</small>
            </span>
            <input required autoComplete="name" maxLength={120} value={form.name} onChange={(e) => put({ name: e.target.value })} />
          </label>
          <label>
            <span>Anything the shop should know</span>
            <textarea rows={2} maxLength={400} value={form.words} onChange={(e) => put({ words: e.target.value })} />
          </label>
          <div>
            <div className="row">
              <b id="signature-label">Signature</b>
              {form.signature && (
                <button type="button" className="plain" onClick={() => put({ signature: "" })}>
                  Clear it
                </button>
              )}
            </div>
            <SignatureStrokes value={form.signature} onChange={(signature) => put({ signature })} border="var(--slate)" />
          </div>
        </div>
        {error !== undefined && <Problem error={error} />}
        <button type="button" className="send" disabled={!form.name.trim() || !option || sending} onClick={() => void send()}>
          {form.choice === "accepted" && chosen ? `Agree to it for ${amount(data.currency, chosen.pay)}` : "Decline it"}
        </button>
        <p className="quiet small">Given once. It is kept with what it rests on, and the shop sees it at once.</p>
      </section>
    </>
  );
}

/** What the customer sees of an estimate: on a phone, by a private link, until it ends. */
export function CustomerPage({ token }: { token: string }) {
  const [data, setData] = useState<Approval>();
  const [error, setError] = useState<unknown>();
  const [looked, setLooked] = useState(0);
  useEffect(() => {
    const stop = new AbortController();
    const look = () =>
      void patient(() => answer(api.GET("/approvals/{token}", { params: { path: { token } }, signal: stop.signal })), 3, stop.signal).then(
        (now) => (setNotation(now.numbers, now.zone), setData(now), setError(undefined)),
        (e: unknown) => stop.signal.aborted || setError(e),
      );
    // A page that was left open is looked at again days later: what it offers may have ended.
    const again = () => document.visibilityState === "visible" && look();
    look();
    document.addEventListener("visibilitychange", again);
    return () => {
      stop.abort();
      document.removeEventListener("visibilitychange", again);
    };
  }, [token, looked]);
  const done = data?.answered;
  const over = data && ended[data.state];
  return (
    <main>
      {!data && error === undefined && (
        <p role="status" className="quiet">
          Loading the estimate …
        </p>
      )}
      {!data && error !== undefined && (
        <>
          <h1>This link opens nothing</h1>
          <Problem error={error} />
        </>
      )}
      {data && (
        <>
          <p className="quiet">{data.shop}</p>
          <h1>{over ? over[0] : `“${data.words}”`}</h1>
          {!over && (
            <>
              <p className="quiet">{data.vehicle}</p>
              <p style={{ margin: "12px 0 8px" }}>
                What is wrong is {data.sure}: <b>{data.root}</b>, {percent(data.rootShare)} %.
              </p>
            </>
          )}
          {done ? (
            <div role="status" className="note">
              <strong className="title">
                {done.choice === "accepted" ? "Agreed" : "Declined"}: {done.title}
              </strong>
              {done.name}, {longMoment(done.at)}. The shop has it.
            </div>
          ) : over ? (
            <div role="alert" className="note fault">
              {over[1]}
            </div>
          ) : (
            <AnswerForm data={data} token={token} took={setData} refused={() => setLooked((n) => n + 1)} />
          )}
          {data.warranty && (
            <p className="quiet lines" style={{ marginTop: 20 }}>
              <b>Warranty.</b> {data.warranty}
            </p>
          )}
          <p className="quiet small lines" style={{ marginTop: 12 }}>
            {data.address}
            {"\n"}This link ends on {longMoment(data.expires)}.
          </p>
        </>
      )}
    </main>
  );
}
