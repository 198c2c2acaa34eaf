// The one way to the server: a typed client that carries the CSRF token and turns problems into errors.
import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type {
  Asked,
  Bench,
  Board,
  BroughtIn,
  BroughtScene,
  Card,
  Carried,
  ChangeConventions,
  Check,
  Checked,
  ClassBody,
  Classes,
  ClassPage,
  CreatePlan,
  DoneList,
  Draft,
  DraftSteps,
  HandedFile,
  HandedIn,
  HandInFile,
  Home,
  Insight,
  JoinAsNew,
  JoinCode,
  Judged,
  Library,
  Look,
  Measured,
  Person,
  Plan,
  PlanDesk,
  PlanPart,
  Preview,
  ProblemBody,
  Proposal,
  Published,
  PublishPlan,
  Recheck,
  Result,
  ReviewBody,
  Roster,
  RosterBody,
  Said,
  SaveDraft,
  SavedSheet,
  SayBody,
  Session,
  Setting,
  SettingBody,
  Sharing,
  SharingBody,
  Sheet,
  SheetBody,
  Slip,
  Soundness,
  Student,
  Submissions,
  TextLine,
  Way,
} from "./types";

export class Problem extends Error {
  constructor(readonly body: ProblemBody) {
    super(body.detail);
  }
}

/** The server did not answer at all. */
export class NoConnection extends Error {
  constructor() {
    super("The server does not answer; check the connection, then try again.");
  }
}

/** The server answered, but not with a problem that says what is wrong. */
export class ServerFault extends Error {
  constructor(readonly status: number) {
    super(`The server met a fault (${status}); try again in a moment.`);
  }
}

let csrfToken = "";

const client = createClient<paths>({ baseUrl: "/" });
client.use({
  onRequest({ request }) {
    request.headers.set("X-CSRF-Token", csrfToken);
    return request;
  },
});

type Answer = { data?: unknown; error?: unknown; response: Response };

/** The answer's value. T is named by the caller, since openapi-fetch forgets how long a tuple is. */
async function unwrapped<T>(asked: Promise<Answer>): Promise<T> {
  const answer = await asked.catch(() => {
    throw new NoConnection();
  });
  if (answer.response.ok) return answer.data as T;
  const body = answer.error as Partial<ProblemBody> | undefined;
  if (!body?.detail || !body.code) throw new ServerFault(answer.response.status);
  throw new Problem(body as ProblemBody);
}

/** A problem in an answer that is none of the typed client's. */
function problemIn(status: number, text: string): Error {
  try {
    const body: Partial<ProblemBody> = JSON.parse(text);
    if (body.detail && body.code) return new Problem(body as ProblemBody);
  } catch {
    // no problem that says what is wrong
  }
  return new ServerFault(status);
}

/** A file sent as it is; fetch cannot tell how much of it is on its way. */
function sent<T>(
  address: string,
  file: File,
  onPart?: (part: number) => void,
  signal?: AbortSignal,
): Promise<T> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", address);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("X-CSRF-Token", csrfToken);
    request.upload.onprogress = ({ loaded, total }) => onPart?.(total > 0 ? loaded / total : 0);
    request.onerror = () => failed(new NoConnection());
    request.onload = () =>
      request.status < 300
        ? done(JSON.parse(request.responseText) as T)
        : failed(problemIn(request.status, request.responseText));
    request.onabort = () => failed(new NoConnection());
    signal?.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

/** A file of the server's, with the name that it is to be saved under. */
async function taken(
  address: string,
  query: Record<string, string>,
): Promise<{ name: string; content: Blob }> {
  const answer = await fetch(`${address}?${new URLSearchParams(query)}`).catch(() => {
    throw new NoConnection();
  });
  if (!answer.ok) throw problemIn(answer.status, await answer.text());
  const said = answer.headers.get("Content-Disposition") ?? "";
  const name = decodeURIComponent(said.split("filename*=UTF-8''")[1] ?? "scene");
  return { name, content: await answer.blob() };
}

function remember(person: Person): Person {
  csrfToken = person.csrf_token;
  return person;
}

const atClass = (number: number) => ({ params: { path: { class: number } } });
const atMember = (number: number, person_id: number) => ({ params: { path: { class: number, person_id } } });
const atRecheck = (recheck: number) => ({ params: { path: { recheck } } });
const at = (assignment: number) => ({ params: { path: { assignment } } });
const atPlan = (plan: number) => ({ params: { path: { plan } } });

/** What can be done where steps are done. Every desk answers alike; its address is all that differs. */
function deskAt(place: string) {
  const path = <P extends string>(end: P) => `${place}/${end}` as `/api/assignments/{assignment}/${P}`;
  const with_ = <B>(body: B) => ({ ...at(0), body }); // the number stands in the place already
  return {
    save: (body: SaveDraft) => unwrapped<Draft>(client.PUT(path("draft"), with_(body))),
    look: (body: DraftSteps) => unwrapped<Look>(client.POST(path("look"), with_(body))),
    preview: (body: DraftSteps) => unwrapped<Preview>(client.POST(path("preview"), with_(body))),
    say: (body: SayBody) => unwrapped<Said>(client.POST(path("say"), with_(body))),
    text: (body: DraftSteps) => unwrapped<{ text: string }>(client.POST(path("text"), with_(body))),
    measures: (body: DraftSteps & { asked: Asked[] }) =>
      unwrapped<{ measured: Measured[] }>(client.POST(path("measures"), with_(body))),
    lines: (text: string) => unwrapped<{ lines: TextLine[] }>(client.POST(path("lines"), with_({ text }))),
  };
}

export type Desk = ReturnType<typeof deskAt>;

export const api = {
  who: () => unwrapped<Person>(client.GET("/api/session")).then(remember),
  signIn: (sign_in: string, password: string) =>
    unwrapped<Person>(client.POST("/api/session", { body: { sign_in, password } })).then(remember),
  signOut: () => unwrapped<void>(client.DELETE("/api/session")),
  home: () => unwrapped<Home>(client.GET("/api/home")),
  bench: (assignment: number) =>
    unwrapped<Bench>(client.GET("/api/assignments/{assignment}/bench", at(assignment))),
  benchDesk: (assignment: number) => deskAt(`/api/assignments/${assignment}`),
  planDesk: (plan: number, part: PlanPart) => deskAt(`/api/plans/${plan}/${part}`),
  handIn: (assignment: number, revision: number) =>
    unwrapped<HandedIn>(
      client.POST("/api/assignments/{assignment}/submissions", { ...at(assignment), body: { revision } }),
    ),
  sheet: (assignment: number) =>
    unwrapped<Sheet>(client.GET("/api/assignments/{assignment}/sheet", at(assignment))),
  saveSheet: (assignment: number, revision: number, sheet: SheetBody) =>
    unwrapped<SavedSheet>(
      client.PUT("/api/assignments/{assignment}/sheet", { ...at(assignment), body: { revision, sheet } }),
    ),
  handInSheet: (assignment: number, revision: number) =>
    unwrapped<HandedIn>(
      client.POST("/api/assignments/{assignment}/sheet/submissions", {
        ...at(assignment),
        body: { revision },
      }),
    ),
  sendFile: (assignment: number, file: File, onPart: (part: number) => void, signal: AbortSignal) =>
    sent<HandedFile>(
      `/api/assignments/${assignment}/files?name=${encodeURIComponent(file.name)}&order=${Date.now()}`,
      file,
      onPart,
      signal,
    ),
  file: (assignment: number, file: number, chosen: HandInFile["conventions"]) =>
    unwrapped<HandedFile>(
      client.GET("/api/assignments/{assignment}/files/{file}", {
        params: { path: { assignment, file }, query: chosen ?? {} },
      }),
    ),
  handInFile: (assignment: number, file: number, body: HandInFile) =>
    unwrapped<HandedIn>(
      client.POST("/api/assignments/{assignment}/files/{file}/submissions", {
        params: { path: { assignment, file } },
        body,
      }),
    ),
  take: taken,
  submissions: (assignment: number) =>
    unwrapped<Submissions>(client.GET("/api/assignments/{assignment}/submissions", at(assignment))),
  review: (submission: number, body: ReviewBody) =>
    unwrapped<void>(
      client.POST("/api/submissions/{submission}/reviews", { params: { path: { submission } }, body }),
    ),
  library: () => unwrapped<Library>(client.GET("/api/plans")),
  createPlan: (body: CreatePlan) => unwrapped<{ plan: number }>(client.POST("/api/plans", { body })),
  bringScene: (file: File) =>
    sent<BroughtScene>(`/api/plans/files?name=${encodeURIComponent(file.name)}`, file),
  plan: (plan: number) => unwrapped<Plan>(client.GET("/api/plans/{plan}", atPlan(plan))),
  saveCard: (plan: number, revision: number, card: Card) =>
    unwrapped<{ revision: number; saved_at: string }>(
      client.PUT("/api/plans/{plan}/card", { ...atPlan(plan), body: { revision, card } }),
    ),
  setConventions: (plan: number, body: ChangeConventions) =>
    unwrapped<Plan>(client.PUT("/api/plans/{plan}/conventions", { ...atPlan(plan), body })),
  freezeTarget: (plan: number, body: ChangeConventions["seen"]) =>
    unwrapped<Plan>(client.PUT("/api/plans/{plan}/target", { ...atPlan(plan), body: { seen: body } })),
  setArchived: (plan: number, archived: boolean) =>
    unwrapped<void>(client.PUT("/api/plans/{plan}/standing", { ...atPlan(plan), body: { archived } })),
  sharing: (plan: number) => unwrapped<Sharing>(client.GET("/api/plans/{plan}/sharing", atPlan(plan))),
  setSharing: (plan: number, shares: SharingBody["shares"]) =>
    unwrapped<void>(client.PUT("/api/plans/{plan}/sharing", { ...atPlan(plan), body: { shares } })),
  planPart: (plan: number, part: PlanPart) =>
    unwrapped<PlanDesk>(client.GET("/api/plans/{plan}/{part}", { params: { path: { plan, part } } })),
  tryChecks: (plan: number, checks: readonly Check[], apart: boolean) =>
    unwrapped<Checked>(
      client.POST("/api/plans/{plan}/checks", { ...atPlan(plan), body: { checks: [...checks], apart } }),
    ),
  tryTrial: (plan: number) => unwrapped<Judged>(client.POST("/api/plans/{plan}/trial/result", atPlan(plan))),
  mistake: (plan: number, number: number) =>
    unwrapped<Way>(client.GET("/api/plans/{plan}/mistakes/{number}", { params: { path: { plan, number } } })),
  takeMistake: (plan: number, mistake: number) =>
    unwrapped<void>(
      client.POST("/api/plans/{plan}/trial/mistake", { ...atPlan(plan), body: { number: mistake } }),
    ),
  proposals: (plan: number) =>
    unwrapped<{ proposals: Proposal[] }>(client.GET("/api/plans/{plan}/proposals", atPlan(plan))),
  soundness: (plan: number) => unwrapped<Soundness>(client.GET("/api/plans/{plan}/soundness", atPlan(plan))),
  publish: (plan: number, body: PublishPlan) =>
    unwrapped<Published>(client.POST("/api/plans/{plan}/versions", { ...atPlan(plan), body })),
  planDocument: (plan: number) => unwrapped<unknown>(client.GET("/api/plans/{plan}/document", atPlan(plan))),
  versionDocument: (version: number) =>
    unwrapped<unknown>(client.GET("/api/versions/{version}/document", { params: { path: { version } } })),
  changePassword: (old: string, next: string) =>
    unwrapped<void>(client.PUT("/api/session/password", { body: { old, new: next } })),
  sessions: () => unwrapped<Session[]>(client.GET("/api/session/all")),
  endSession: (one: string) =>
    unwrapped<void>(client.DELETE("/api/session/all/{one}", { params: { path: { one } } })),
  endOtherSessions: () => unwrapped<void>(client.DELETE("/api/session/others")),
  joinClass: (code: string) =>
    unwrapped<{ class_id: number }>(client.POST("/api/session/class", { body: { code } })),
  joinAsNew: (body: JoinAsNew) => unwrapped<Person>(client.POST("/api/session/new", { body })).then(remember),
  classes: () => unwrapped<Classes>(client.GET("/api/classes")),
  makeClass: (body: ClassBody) => unwrapped<{ id: number }>(client.POST("/api/classes", { body })),
  changeClass: (number: number, body: ClassBody) =>
    unwrapped<void>(client.PUT("/api/classes/{class}", { ...atClass(number), body })),
  class: (number: number) => unwrapped<ClassPage>(client.GET("/api/classes/{class}", atClass(number))),
  done: (number: number, before?: number) =>
    unwrapped<DoneList>(
      client.GET("/api/classes/{class}/done", {
        params: { path: { class: number }, query: before === undefined ? {} : { before } },
      }),
    ),
  board: (number: number) => unwrapped<Board>(client.GET("/api/classes/{class}/board", atClass(number))),
  student: (number: number, student: number) =>
    unwrapped<Student>(
      client.GET("/api/classes/{class}/students/{student}", { params: { path: { class: number, student } } }),
    ),
  previewRoster: (number: number, body: RosterBody) =>
    unwrapped<Roster>(client.POST("/api/classes/{class}/roster/preview", { ...atClass(number), body })),
  bringIn: (number: number, body: RosterBody) =>
    unwrapped<BroughtIn>(client.POST("/api/classes/{class}/roster", { ...atClass(number), body })),
  makeCode: (number: number, minutes: number) =>
    unwrapped<JoinCode>(client.POST("/api/classes/{class}/codes", { ...atClass(number), body: { minutes } })),
  endCode: (number: number, code: string) =>
    unwrapped<void>(
      client.DELETE("/api/classes/{class}/codes/{code}", { params: { path: { class: number, code } } }),
    ),
  giveSlips: (number: number, people: number[]) =>
    unwrapped<Slip[]>(client.POST("/api/classes/{class}/slips", { ...atClass(number), body: { people } })),
  setRole: (number: number, person: number, role: "student" | "instructor") =>
    unwrapped<void>(
      client.PUT("/api/classes/{class}/people/{person_id}/role", {
        ...atMember(number, person),
        body: { role },
      }),
    ),
  acceptInvitation: (number: number) =>
    unwrapped<void>(client.POST("/api/invitations/{class}", atClass(number))),
  declineInvitation: (number: number) =>
    unwrapped<void>(client.DELETE("/api/invitations/{class}", atClass(number))),
  withdrawInvitation: (number: number, person: number) =>
    unwrapped<void>(client.DELETE("/api/classes/{class}/invitations/{person_id}", atMember(number, person))),
  moveMember: (number: number, person: number, to: number) =>
    unwrapped<void>(
      client.POST("/api/classes/{class}/people/{person_id}/move", {
        ...atMember(number, person),
        body: { to },
      }),
    ),
  letGo: (number: number, person: number) =>
    unwrapped<void>(client.DELETE("/api/classes/{class}/people/{person_id}", atMember(number, person))),
  erase: (number: number, person: number, name: string) =>
    unwrapped<void>(
      client.POST("/api/classes/{class}/people/{person_id}/erasure", {
        ...atMember(number, person),
        body: { name },
      }),
    ),
  setting: (assignment: number) =>
    unwrapped<Setting>(client.GET("/api/assignments/{assignment}/setting", at(assignment))),
  changeSetting: (assignment: number, body: SettingBody) =>
    unwrapped<void>(client.PUT("/api/assignments/{assignment}/setting", { ...at(assignment), body })),
  takeVersion: (assignment: number, version: number) =>
    unwrapped<Carried>(
      client.PUT("/api/assignments/{assignment}/version", { ...at(assignment), body: { version } }),
    ),
  setVersion: (number: number, version: number, body: SettingBody) =>
    unwrapped<{ id: number }>(
      client.POST("/api/classes/{class}/assignments", { ...atClass(number), body: { ...body, version } }),
    ),
  insight: (assignment: number) =>
    unwrapped<Insight>(client.GET("/api/assignments/{assignment}/insight", at(assignment))),
  remarks: (assignment: number) =>
    unwrapped<string[]>(client.GET("/api/assignments/{assignment}/remarks", at(assignment))),
  looked: (submission: number) =>
    unwrapped<void>(
      client.POST("/api/submissions/{submission}/looked", { params: { path: { submission } } }),
    ),
  newestRecheck: (assignment: number) =>
    unwrapped<Recheck | null>(client.GET("/api/assignments/{assignment}/recheck", at(assignment))),
  askRecheck: (assignment: number, version: number | null) =>
    unwrapped<{ id: number }>(
      client.POST("/api/assignments/{assignment}/recheck", { ...at(assignment), body: { version } }),
    ),
  cancelRecheck: (recheck: number) =>
    unwrapped<void>(client.DELETE("/api/rechecks/{recheck}", atRecheck(recheck))),
  takeRecheck: (recheck: number, submissions: number[] | null) =>
    unwrapped<{ count: number }>(
      client.POST("/api/rechecks/{recheck}/acceptance", { ...atRecheck(recheck), body: { submissions } }),
    ),
  result: (submission: number) =>
    unwrapped<Result>(client.GET("/api/submissions/{submission}", { params: { path: { submission } } })),
};
