// The way to the server: requests typed by the API's schema, the CSRF token, and problems as errors.
import createClient from "openapi-fetch";
import type { paths } from "./schema";
import type { Person, ProblemBody } from "./types";

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

type Method = "get" | "post" | "put" | "delete";

/** The paths that have an operation for a method. */
type PathsWith<M extends Method> = {
  [P in keyof paths]: paths[P] extends Record<M, { responses: unknown }> ? P : never;
}[keyof paths];

type Operation<M extends Method, P extends keyof paths> = paths[P][M];

type Json<R> = R extends { content: { "application/json": infer T } } ? T : undefined;

/** What an operation answers; openapi-fetch would forget how long a tuple is. */
export type Answer<O> = O extends { responses: { 200: infer R } }
  ? Json<R>
  : O extends { responses: { 201: infer R } }
    ? Json<R>
    : undefined;

type PathOf<O> = O extends { parameters: { path: infer P } } ? { path: P } : unknown;
type QueryOf<O> = O extends { parameters: { query?: infer Q } } ? { query?: Q } : unknown;
type BodyOf<O> = O extends { requestBody: { content: { "application/json": infer B } } }
  ? { body: B }
  : unknown;

/** What an operation is to be given. */
export type Given<O> = PathOf<O> & QueryOf<O> & BodyOf<O>;

let csrfToken = "";

const client = createClient<paths>({ baseUrl: "/" });
client.use({
  onRequest({ request }) {
    request.headers.set("X-CSRF-Token", csrfToken);
    return request;
  },
});

type Loose = { path?: object; query?: object; body?: unknown };
type LooseRequest = (
  path: string,
  init: object,
) => Promise<{ data?: unknown; error?: unknown; response: Response }>;

/** Ask the server. The one place that says of an answer what it is: what the schema says of the operation. */
async function ask<O>(method: Uppercase<Method>, path: string, given: Given<O>, signal?: AbortSignal) {
  const { path: places, query, body } = given as Loose;
  const request = client[method] as LooseRequest;
  const answer = await request(path, { params: { path: places, query }, body, signal }).catch(
    (error: unknown) => {
      throw signal?.aborted ? error : new NoConnection();
    },
  );
  if (answer.response.ok) return answer.data as Answer<O>;
  const problem = answer.error as Partial<ProblemBody> | undefined;
  if (!problem?.detail || !problem.code) throw new ServerFault(answer.response.status);
  throw new Problem(problem as ProblemBody);
}

export const get = <P extends PathsWith<"get">>(
  path: P,
  given: Given<Operation<"get", P>>,
  signal?: AbortSignal,
) => ask<Operation<"get", P>>("GET", path, given, signal);

export const post = <P extends PathsWith<"post">>(
  path: P,
  given: Given<Operation<"post", P>>,
  signal?: AbortSignal,
) => ask<Operation<"post", P>>("POST", path, given, signal);

export const put = <P extends PathsWith<"put">>(path: P, given: Given<Operation<"put", P>>) =>
  ask<Operation<"put", P>>("PUT", path, given);

export const remove = <P extends PathsWith<"delete">>(path: P, given: Given<Operation<"delete", P>>) =>
  ask<Operation<"delete", P>>("DELETE", path, given);

/** Keep the token that changes carry. */
export function remember(person: Person): Person {
  csrfToken = person.csrf_token;
  return person;
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

/** Send a file as it is; fetch cannot tell how much of it is on its way. P: the operation that takes it. */
export function upload<P extends PathsWith<"post">>(
  _path: P,
  address: string,
  file: File,
  onPart?: (part: number) => void,
  signal?: AbortSignal,
): Promise<Answer<Operation<"post", P>>> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", address);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("X-CSRF-Token", csrfToken);
    request.upload.onprogress = ({ loaded, total }) => onPart?.(total > 0 ? loaded / total : 0);
    request.onerror = () => failed(new NoConnection());
    request.onload = () =>
      request.status < 300
        ? done(JSON.parse(request.responseText))
        : failed(problemIn(request.status, request.responseText));
    request.onabort = () => failed(new NoConnection());
    signal?.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

/** A file of the server's, with the name that it is to be saved under. */
export async function download(
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
