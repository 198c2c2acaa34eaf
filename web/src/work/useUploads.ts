// A file on its way to the server: how much of it is there, and what became of it.
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";

export type Sending = { file: string; part: number } | { file: string; why: string } | null;

export type FileControl = {
  sending: Sending;
  send: (assignment: number, file: File) => void;
  /** Give up what is on its way, or archived why it was not taken. */
  stop: () => void;
};

/** Sends a file and opens the page on which it is looked over; the server says whether it can be read. */
export function useUploads(): FileControl {
  const [sending, setSending] = useState<Sending>(null);
  const given = useRef<AbortController | null>(null);
  const navigate = useNavigate();
  const send = async (assignment: number, file: File) => {
    const mine = new AbortController();
    given.current?.abort();
    given.current = mine;
    const say = (next: Sending) => given.current === mine && setSending(next);
    say({ file: file.name, part: 0 });
    try {
      const sent = await api.sendFile(
        assignment,
        file,
        (part) => say({ file: file.name, part }),
        mine.signal,
      );
      say(null);
      navigate(`/file/${assignment}/${sent.file}`);
    } catch (error) {
      if (!mine.signal.aborted) say({ file: file.name, why: (error as Error).message });
    }
  };
  return {
    sending,
    send: (assignment, file) => void send(assignment, file),
    stop: () => {
      given.current?.abort();
      given.current = null;
      setSending(null);
    },
  };
}
