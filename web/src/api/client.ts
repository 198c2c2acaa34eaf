// What can be asked of the server, in one list.
import { download, get, post, put, remember, remove, upload } from "./http";
import type {
  Card,
  ChangeConventions,
  Check,
  ClassBody,
  CopyBody,
  CreatePlan,
  DraftSteps,
  ExceptionBody,
  JoinAsNew,
  MeasuresBody,
  PlanPart,
  PublishPlan,
  ReviewBody,
  RosterBody,
  SaveDraft,
  SayBody,
  SettingsBody,
  SharingBody,
  SheetBody,
  SubmitFile,
  WeightsBody,
} from "./types";

export { NoConnection, Problem, ServerFault } from "./http";

/** What can be done where steps are done: on the bench, or in a part of a plan. Both answer alike. */
function benchEditor(assignment: number) {
  const path = { assignment };
  return {
    save: (body: SaveDraft) => put("/api/assignments/{assignment}/draft", { path, body }),
    look: (body: DraftSteps, signal?: AbortSignal) =>
      post("/api/assignments/{assignment}/look", { path, body }, signal),
    preview: (body: DraftSteps, signal?: AbortSignal) =>
      post("/api/assignments/{assignment}/preview", { path, body }, signal),
    say: (body: SayBody, signal?: AbortSignal) =>
      post("/api/assignments/{assignment}/say", { path, body }, signal),
    text: (body: DraftSteps) => post("/api/assignments/{assignment}/text", { path, body }),
    measures: (body: MeasuresBody, signal?: AbortSignal) =>
      post("/api/assignments/{assignment}/measures", { path, body }, signal),
    lines: (text: string) => post("/api/assignments/{assignment}/lines", { path, body: { text } }),
  };
}

function planEditor(plan: number, part: PlanPart): ReturnType<typeof benchEditor> {
  const path = { plan, part };
  return {
    save: (body) => put("/api/plans/{plan}/{part}/draft", { path, body }),
    look: (body, signal) => post("/api/plans/{plan}/{part}/look", { path, body }, signal),
    preview: (body, signal) => post("/api/plans/{plan}/{part}/preview", { path, body }, signal),
    say: (body, signal) => post("/api/plans/{plan}/{part}/say", { path, body }, signal),
    text: (body) => post("/api/plans/{plan}/{part}/text", { path, body }),
    measures: (body, signal) => post("/api/plans/{plan}/{part}/measures", { path, body }, signal),
    lines: (text) => post("/api/plans/{plan}/{part}/lines", { path, body: { text } }),
  };
}

export type StepEditing = ReturnType<typeof benchEditor>;

export const api = {
  who: () => get("/api/session", {}).then(remember),
  signIn: (sign_in: string, password: string) =>
    post("/api/session", { body: { sign_in, password } }).then(remember),
  signOut: () => remove("/api/session", {}),
  home: () => get("/api/home", {}),
  bench: (assignment: number) => get("/api/assignments/{assignment}/bench", { path: { assignment } }),
  benchEditor: benchEditor,
  planEditor: planEditor,
  submit: (assignment: number, revision: number) =>
    post("/api/assignments/{assignment}/submissions", { path: { assignment }, body: { revision } }),
  sheet: (assignment: number) => get("/api/assignments/{assignment}/sheet", { path: { assignment } }),
  saveSheet: (assignment: number, revision: number, sheet: SheetBody) =>
    put("/api/assignments/{assignment}/sheet", { path: { assignment }, body: { revision, sheet } }),
  submitSheet: (assignment: number, revision: number) =>
    post("/api/assignments/{assignment}/sheet/submissions", {
      path: { assignment },
      body: { revision },
    }),
  sendFile: (assignment: number, file: File, onPart: (part: number) => void, signal: AbortSignal) =>
    upload(
      "/api/assignments/{assignment}/files",
      `/api/assignments/${assignment}/files?name=${encodeURIComponent(file.name)}&order=${Date.now()}`,
      file,
      onPart,
      signal,
    ),
  file: (assignment: number, file: number, chosen: SubmitFile["conventions"]) =>
    get("/api/assignments/{assignment}/files/{file}", {
      path: { assignment, file },
      query: chosen ?? {},
    }),
  submitFile: (assignment: number, file: number, body: SubmitFile) =>
    post("/api/assignments/{assignment}/files/{file}/submissions", {
      path: { assignment, file },
      body,
    }),
  take: download,
  submissions: (assignment: number) =>
    get("/api/assignments/{assignment}/submissions", { path: { assignment } }),
  review: (submission: number, body: ReviewBody) =>
    post("/api/submissions/{submission}/reviews", { path: { submission }, body }),
  library: () => get("/api/plans", {}),
  createPlan: (body: CreatePlan) => post("/api/plans", { body }),
  importScene: (file: File) =>
    upload("/api/plans/files", `/api/plans/files?name=${encodeURIComponent(file.name)}`, file),
  plan: (plan: number) => get("/api/plans/{plan}", { path: { plan } }),
  saveCard: (plan: number, revision: number, card: Card) =>
    put("/api/plans/{plan}/card", { path: { plan }, body: { revision, card } }),
  setConventions: (plan: number, body: ChangeConventions) =>
    put("/api/plans/{plan}/conventions", { path: { plan }, body }),
  freezeTarget: (plan: number, body: ChangeConventions["seen"]) =>
    put("/api/plans/{plan}/target", { path: { plan }, body: { seen: body } }),
  setArchived: (plan: number, archived: boolean) =>
    put("/api/plans/{plan}/archive", { path: { plan }, body: { archived } }),
  sharing: (plan: number) => get("/api/plans/{plan}/sharing", { path: { plan } }),
  setSharing: (plan: number, shares: SharingBody["shares"]) =>
    put("/api/plans/{plan}/sharing", { path: { plan }, body: { shares } }),
  planPart: (plan: number, part: PlanPart) => get("/api/plans/{plan}/{part}", { path: { plan, part } }),
  tryChecks: (plan: number, checks: readonly Check[], apart: boolean) =>
    post("/api/plans/{plan}/checks", { path: { plan }, body: { checks: [...checks], apart } }),
  tryTrial: (plan: number) => post("/api/plans/{plan}/trial/result", { path: { plan } }),
  mistake: (plan: number, number: number) =>
    get("/api/plans/{plan}/mistakes/{number}", { path: { plan, number } }),
  openMistake: (plan: number, mistake: number) =>
    post("/api/plans/{plan}/trial/mistake", { path: { plan }, body: { number: mistake } }),
  proposals: (plan: number) => get("/api/plans/{plan}/proposals", { path: { plan } }),
  soundness: (plan: number) => get("/api/plans/{plan}/soundness", { path: { plan } }),
  publish: (plan: number, body: PublishPlan) => post("/api/plans/{plan}/versions", { path: { plan }, body }),
  planDocument: (plan: number) => get("/api/plans/{plan}/document", { path: { plan } }),
  versionDocument: (version: number) => get("/api/versions/{version}/document", { path: { version } }),
  changePassword: (old: string, next: string) => put("/api/session/password", { body: { old, new: next } }),
  sessions: () => get("/api/session/all", {}),
  endSession: (one: string) => remove("/api/session/all/{one}", { path: { one } }),
  endOtherSessions: () => remove("/api/session/others", {}),
  calendar: () => get("/api/calendar", {}),
  renewCalendar: () => post("/api/calendar", {}),
  joinClass: (code: string) => post("/api/session/class", { body: { code } }),
  joinAsNew: (body: JoinAsNew) => post("/api/session/new", { body }).then(remember),
  classes: () => get("/api/classes", {}),
  createClass: (body: ClassBody) => post("/api/classes", { body }),
  changeClass: (number: number, body: ClassBody) =>
    put("/api/classes/{class}", { path: { class: number }, body }),
  class: (number: number) => get("/api/classes/{class}", { path: { class: number } }),
  activity: (number: number, before?: number) =>
    get("/api/classes/{class}/activity", {
      path: { class: number },
      query: before === undefined ? {} : { before },
    }),
  setClassArchived: (number: number, archived: boolean) =>
    put("/api/classes/{class}/archive", { path: { class: number }, body: { archived } }),
  copyPlan: (number: number, first_day: string) =>
    get("/api/classes/{class}/copy", { path: { class: number }, query: { first_day } }),
  copyClass: (number: number, body: CopyBody) =>
    post("/api/classes/{class}/copy", { path: { class: number }, body }),
  setWeights: (number: number, weights: WeightsBody["weights"]) =>
    put("/api/classes/{class}/weights", { path: { class: number }, body: { weights } }),
  board: (number: number) => get("/api/classes/{class}/board", { path: { class: number } }),
  student: (number: number, student: number) =>
    get("/api/classes/{class}/students/{student}", { path: { class: number, student } }),
  previewRoster: (number: number, body: RosterBody) =>
    post("/api/classes/{class}/roster/preview", { path: { class: number }, body }),
  addPeople: (number: number, body: RosterBody) =>
    post("/api/classes/{class}/roster", { path: { class: number }, body }),
  createCode: (number: number, minutes: number) =>
    post("/api/classes/{class}/codes", { path: { class: number }, body: { minutes } }),
  endCode: (number: number, code: string) =>
    remove("/api/classes/{class}/codes/{code}", { path: { class: number, code } }),
  giveSlips: (number: number, people: number[]) =>
    post("/api/classes/{class}/slips", { path: { class: number }, body: { people } }),
  setRole: (number: number, person: number, role: "student" | "instructor") =>
    put("/api/classes/{class}/people/{person_id}/role", {
      path: { class: number, person_id: person },
      body: { role },
    }),
  acceptInvitation: (number: number) => post("/api/invitations/{class}", { path: { class: number } }),
  declineInvitation: (number: number) => remove("/api/invitations/{class}", { path: { class: number } }),
  withdrawInvitation: (number: number, person: number) =>
    remove("/api/classes/{class}/invitations/{person_id}", { path: { class: number, person_id: person } }),
  moveMember: (number: number, person: number, to: number) =>
    post("/api/classes/{class}/people/{person_id}/move", {
      path: { class: number, person_id: person },
      body: { to },
    }),
  removeMember: (number: number, person: number) =>
    remove("/api/classes/{class}/people/{person_id}", { path: { class: number, person_id: person } }),
  erase: (number: number, person: number, name: string) =>
    post("/api/classes/{class}/people/{person_id}/erasure", {
      path: { class: number, person_id: person },
      body: { name },
    }),
  setting: (assignment: number) => get("/api/assignments/{assignment}/settings", { path: { assignment } }),
  changeSetting: (assignment: number, body: SettingsBody) =>
    put("/api/assignments/{assignment}/settings", { path: { assignment }, body }),
  setExceptions: (assignment: number, body: ExceptionBody) =>
    put("/api/assignments/{assignment}/exceptions", { path: { assignment }, body }),
  replaceVersion: (assignment: number, version: number) =>
    put("/api/assignments/{assignment}/version", { path: { assignment }, body: { version } }),
  assignVersion: (number: number, version: number, body: SettingsBody) =>
    post("/api/classes/{class}/assignments", { path: { class: number }, body: { ...body, version } }),
  insight: (assignment: number) => get("/api/assignments/{assignment}/insight", { path: { assignment } }),
  remarks: (assignment: number) => get("/api/assignments/{assignment}/remarks", { path: { assignment } }),
  reviewed: (submission: number) => post("/api/submissions/{submission}/reviewed", { path: { submission } }),
  newestRecheck: (assignment: number) =>
    get("/api/assignments/{assignment}/recheck", { path: { assignment } }),
  askRecheck: (assignment: number, version: number | null) =>
    post("/api/assignments/{assignment}/recheck", { path: { assignment }, body: { version } }),
  cancelRecheck: (recheck: number) => remove("/api/rechecks/{recheck}", { path: { recheck } }),
  applyRecheck: (recheck: number, submissions: number[] | null) =>
    post("/api/rechecks/{recheck}/acceptance", { path: { recheck }, body: { submissions } }),
  result: (submission: number) => get("/api/submissions/{submission}", { path: { submission } }),
};
