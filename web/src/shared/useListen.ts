import { useEffect, useRef, useState } from "react";

/** What is needed of the browser's speech recognition, as far as it works on this machine alone. */
interface Recognition extends EventTarget {
  lang: string;
  continuous: boolean;
  processLocally: boolean;
  start(): void;
  stop(): void;
}
interface RecognitionClass {
  new (): Recognition;
  available?(options: { langs: string[]; processLocally: boolean }): Promise<string>;
}
interface Heard extends Event {
  resultIndex: number;
  results: ArrayLike<ArrayLike<{ transcript: string }> & { isFinal: boolean }>;
}

const Speech = (window as unknown as { SpeechRecognition?: RecognitionClass }).SpeechRecognition;
const lang = "en-US";

/**
 * Listens with the browser's own recognition, but only where it works on this machine: nothing that is said in a vehicle goes out to a
 * service elsewhere. Says why when it cannot.
 */
export function useListen(heard: (words: string) => void) {
  const [able, setAble] = useState(false);
  const [on, setOn] = useState(false);
  const running = useRef<Recognition>(null);
  const tell = useRef(heard);
  useEffect(() => {
    tell.current = heard;
  });
  useEffect(() => {
    let here = true;
    void Speech?.available?.({ langs: [lang], processLocally: true }).then(
      (state) => here && setAble(state === "available"),
      () => undefined,
    );
    return () => {
      here = false;
      running.current?.stop();
    };
  }, []);
  const toggle = () => {
    if (running.current) return running.current.stop();
    if (!Speech) return;
    const r = new Speech();
    r.lang = lang;
    r.continuous = true;
    r.processLocally = true;
    r.addEventListener("result", (e) => {
      const { results, resultIndex } = e as Heard;
      const last = results[resultIndex];
      if (last?.isFinal && last[0]) tell.current(last[0].transcript);
    });
    r.addEventListener("end", () => {
      running.current = null;
      setOn(false);
    });
    running.current = r;
    r.start();
    setOn(true);
  };
  return { able, on, toggle, why: "This browser has no speech recognition of its own." };
}
