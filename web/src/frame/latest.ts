import { useEffect, useRef, useState } from "react";

/**
 * Ask about a value that changes at every keystroke: one question is under way at a time, and the newest value
 * is asked about as soon as the last answer is there.
 */
export function useLatest<Q, A>(question: Q | null, askFor: (question: Q) => Promise<A>): A | undefined {
  const [answer, setAnswer] = useState<A>();
  const state = useRef({ busy: false, waiting: null as Q | null, gone: false });
  const text = question === null ? "" : JSON.stringify(question);
  const askNow = useRef(askFor);
  useEffect(() => {
    askNow.current = askFor;
  });
  useEffect(() => {
    const s = state.current;
    s.gone = false;
    if (!text) return;
    s.waiting = JSON.parse(text) as Q;
    async function run() {
      if (s.busy) return;
      s.busy = true;
      while (s.waiting !== null && !s.gone) {
        const next = s.waiting;
        s.waiting = null;
        try {
          const got = await askNow.current(next);
          if (!s.gone) setAnswer(got);
        } catch {
          // A lost connection: the next change, or the retry below, asks again.
          if (s.waiting === null && !s.gone) {
            await new Promise((resolve) => setTimeout(resolve, 2000));
            s.waiting ??= next;
          }
        }
      }
      s.busy = false;
    }
    void run();
  }, [text]);
  useEffect(() => {
    const s = state.current;
    return () => {
      s.gone = true;
    };
  }, []);
  return answer;
}
