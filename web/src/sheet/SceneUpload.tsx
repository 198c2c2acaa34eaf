// A whole scene, made elsewhere: chosen as a file, its objects matched with the exercise's, looked over, handed in.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Exercise, SceneFile, SceneMatch, SceneMatches } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { choices, choose, FOUND_BY, isSure } from "../ui/matches";
import { Button } from "../ui/parts";
import { sceneIn, withMatches } from "./sceneFile";

type Read = { file: string; scene: SceneFile; found: SceneMatches };

export function SceneUpload({ assignment, exercise }: { assignment: number; exercise: Exercise }) {
  const [read, setRead] = useState<Read | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const take = async (file: File) => {
    setProblem(null);
    try {
      const scene = sceneIn(await file.text(), exercise.id);
      setRead({ file: file.name, scene, found: await api.sceneMatches(assignment, scene) });
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <section aria-label="Scene file" className="border-t border-hairline pt-4">
      <label className="block">
        Or hand in a whole scene, as JSON with its conventions and objects:
        <input
          type="file"
          accept="application/json,.json"
          className="ml-3"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void take(file);
            event.target.value = "";
          }}
        />
      </label>
      {problem && (
        <p role="alert" className="mt-1 text-fail">
          {problem}
        </p>
      )}
      {read && <Matching assignment={assignment} read={read} onClose={() => setRead(null)} />}
    </section>
  );
}

const unsureFirst = (a: SceneMatch, b: SceneMatch) => Number(isSure(a)) - Number(isSure(b));

type MatchingProps = { assignment: number; read: Read; onClose: () => void };

/** What is what in the file: seen and corrected before it is handed in. */
function Matching({ assignment, read, onClose }: MatchingProps) {
  const [matches, setMatches] = useState(() => read.found.matches.toSorted(unsureFirst));
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const cache = useQueryClient();
  const options = choices(read.found.in_file);
  const unsure = matches.filter((match) => !isSure(match)).length;
  const handIn = async () => {
    setBusy(true);
    try {
      const { submission } = await api.handInScene(assignment, withMatches(read.scene, matches));
      cache.removeQueries({ queryKey: ["home"] });
      navigate(`/result/${submission}`);
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`What is what in ${read.file}`}
      text={
        unsure > 0
          ? "Look at the marked ones: they were guessed or not found. What is not in the file misses its checks."
          : "Each object was found. Change what was taken for another."
      }
    >
      <div className="mt-4 max-h-[50vh] overflow-auto">
        <table className="w-full border-collapse">
          <thead className="text-left text-sm text-ink-soft">
            <tr className="border-b border-hairline">
              <th scope="col" className="py-1 pr-3 font-normal">
                Object
              </th>
              <th scope="col" className="px-2 font-normal">
                In the file
              </th>
              <th scope="col" className="px-2 font-normal">
                Found
              </th>
            </tr>
          </thead>
          <tbody>
            {matches.map((match) => {
              const look = isSure(match) ? "text-ink-soft" : "font-semibold text-near";
              return (
                <tr key={match.target} className="border-b border-hairline">
                  <th scope="row" className="py-1 pr-3 text-left font-semibold">
                    {match.name}
                  </th>
                  <td className="px-2 py-1">
                    <select
                      aria-label={`${match.name} in the file`}
                      value={match.submitted ?? ""}
                      onChange={(event) => setMatches(choose(matches, match.target, event.target.value))}
                      className="h-8 w-full rounded-md border border-edge bg-sheet px-1"
                    >
                      <option value="">not in the file</option>
                      {options.map(({ id, text }) => (
                        <option key={id} value={id}>
                          {text}
                        </option>
                      ))}
                    </select>
                  </td>
                  <td className={`px-2 text-sm ${look}`}>{match.by ? FOUND_BY[match.by] : "✕ not found"}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {problem && (
        <p role="alert" className="mt-3 text-fail">
          {problem}
        </p>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Not yet</Button>
        <Button look="main" disabled={busy} onClick={handIn}>
          {busy ? "Handing in…" : "Hand in now"}
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
