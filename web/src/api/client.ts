// The one way to the server: a typed client that carries the CSRF token and turns problems into errors.
import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type {
  Asked,
  Bench,
  Draft,
  HandedIn,
  Home,
  Look,
  Measured,
  Person,
  Preview,
  ProblemBody,
  Result,
  ReviewBody,
  Said,
  SaveDraft,
  SavedSheet,
  SayBody,
  SceneFile,
  SceneMatches,
  Sheet,
  SheetBody,
  Submissions,
  TextLine,
  WorkBody,
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

function remember(person: Person): Person {
  csrfToken = person.csrf_token;
  return person;
}

const at = (assignment: number) => ({ params: { path: { assignment } } });

export const api = {
  who: () => unwrapped<Person>(client.GET("/api/session")).then(remember),
  signIn: (sign_in: string, password: string) =>
    unwrapped<Person>(client.POST("/api/session", { body: { sign_in, password } })).then(remember),
  signOut: () => unwrapped<void>(client.DELETE("/api/session")),
  home: () => unwrapped<Home>(client.GET("/api/home")),
  bench: (assignment: number) =>
    unwrapped<Bench>(client.GET("/api/assignments/{assignment}/bench", at(assignment))),
  saveDraft: (assignment: number, body: SaveDraft) =>
    unwrapped<Draft>(client.PUT("/api/assignments/{assignment}/draft", { ...at(assignment), body })),
  look: (assignment: number, body: WorkBody) =>
    unwrapped<Look>(client.POST("/api/assignments/{assignment}/look", { ...at(assignment), body })),
  preview: (assignment: number, body: WorkBody) =>
    unwrapped<Preview>(client.POST("/api/assignments/{assignment}/preview", { ...at(assignment), body })),
  say: (assignment: number, body: SayBody) =>
    unwrapped<Said>(client.POST("/api/assignments/{assignment}/say", { ...at(assignment), body })),
  text: (assignment: number, body: WorkBody) =>
    unwrapped<{ text: string }>(
      client.POST("/api/assignments/{assignment}/text", { ...at(assignment), body }),
    ),
  measures: (assignment: number, body: WorkBody & { asked: Asked[] }) =>
    unwrapped<{ measured: Measured[] }>(
      client.POST("/api/assignments/{assignment}/measures", { ...at(assignment), body }),
    ),
  lines: (assignment: number, text: string) =>
    unwrapped<{ lines: TextLine[] }>(
      client.POST("/api/assignments/{assignment}/lines", { ...at(assignment), body: { text } }),
    ),
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
  sceneMatches: (assignment: number, scene: SceneFile) =>
    unwrapped<SceneMatches>(
      client.POST("/api/assignments/{assignment}/scene/matches", { ...at(assignment), body: scene }),
    ),
  handInScene: (assignment: number, scene: SceneFile) =>
    unwrapped<HandedIn>(
      client.POST("/api/assignments/{assignment}/scene/submissions", { ...at(assignment), body: scene }),
    ),
  submissions: (assignment: number) =>
    unwrapped<Submissions>(client.GET("/api/assignments/{assignment}/submissions", at(assignment))),
  review: (submission: number, body: ReviewBody) =>
    unwrapped<void>(
      client.POST("/api/submissions/{submission}/reviews", { params: { path: { submission } }, body }),
    ),
  result: (submission: number) =>
    unwrapped<Result>(client.GET("/api/submissions/{submission}", { params: { path: { submission } } })),
};
