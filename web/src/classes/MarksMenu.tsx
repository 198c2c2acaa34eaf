// The marks of a class as a file of choice.
import { ChevronDown, Download } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { api } from "../api/client";
import { saveBlob } from "../files/save";
import { Button } from "../ui/parts";

const KINDS = [
  { kind: "xlsx", text: "Workbook (XLSX)" },
  { kind: "csv", text: "Table (CSV)" },
  { kind: "oneroster", text: "OneRoster line items and results" },
  { kind: "folder", text: "Everything as a folder (ZIP)" },
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
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger asChild>
          <Button>
            <Download size={14} aria-hidden />
            Take marks away
            <ChevronDown size={14} aria-hidden />
          </Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="z-50 rounded-md border border-hairline bg-sheet p-1 shadow-lg"
          >
            {KINDS.map(({ kind, text }) => (
              <DropdownMenu.Item
                key={kind}
                onSelect={() => take(kind)}
                className="cursor-pointer rounded-sm px-3 py-1.5 outline-none data-highlighted:bg-plum-soft"
              >
                {text}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  );
}
