// The marks of a class as a file of choice.
import { Download } from "lucide-react";
import { useState } from "react";
import { api } from "../api/client";
import { Menu } from "../ui/Menu";
import { saveBlob } from "../ui/saveBlob";

const KINDS = [
  { kind: "xlsx", text: "Workbook (XLSX)" },
  { kind: "csv", text: "Table (CSV)" },
  { kind: "oneroster", text: "OneRoster line items and results" },
  { kind: "folder", text: "Everything (ZIP)" },
];

export function MarksMenu({ class: number }: { class: number }) {
  const [problem, setProblem] = useState("");
  const take = (kind: string) =>
    void api
      .take(`/api/classes/${number}/marks`, { kind })
      .then(({ name, content }) => {
        setProblem("");
        saveBlob(name, content);
      })
      .catch((error: Error) => setProblem(error.message));
  return (
    <>
      {problem && (
        <span role="alert" className="text-fail">
          {problem}
        </span>
      )}
      <Menu
        button={
          <>
            <Download size={14} aria-hidden />
            Download marks
          </>
        }
        items={KINDS.map(({ kind, text }) => ({ text, act: () => take(kind) }))}
      />
    </>
  );
}
