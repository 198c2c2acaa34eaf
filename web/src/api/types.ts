// Short names for the generated schemas. Nothing here is written by hand but the names.
import type { components } from "./schema";

type Schemas = components["schemas"];

export type Bench = Schemas["BenchView"];
export type Cause = Schemas["CauseView"];
export type CheckResult = Schemas["CheckView"];
export type Draft = Schemas["DraftView"];
export type Exercise = Schemas["ExerciseView"];
export type Halo = Schemas["HaloView"];
export type HandedIn = Schemas["HandedIn"];
export type Home = Schemas["HomeView"];
export type Person = Schemas["PersonView"];
export type Pose = Schemas["PoseView"];
export type ProblemBody = Schemas["Problem"];
export type ReviewBody = Schemas["ReviewBody"];
export type Result = Schemas["ResultView"];
export type SaveDraft = Schemas["SaveDraft"];
export type SceneFile = Schemas["SceneFile"];
export type SceneMatches = Schemas["MatchesView"];
export type SceneMatch = SceneMatches["matches"][number];
export type SceneObject = Schemas["ObjectView"];
export type SavedSheet = Schemas["SavedSheet"];
export type Sheet = Schemas["SheetView"];
export type SheetBody = Schemas["SheetSent"];
export type SheetRow = Schemas["Row"];
export type Solid = NonNullable<SceneObject["solid"]>;
export type Step = StepView["step"];
export type Move = Schemas["Move"];
export type Rotate = Schemas["Rotate"];
export type Scale = Schemas["Scale"];
export type Space = Move["space"];
export type Pivot = Rotate["pivot"];
export type Asked = Schemas["Asked"];
export type Measured = Schemas["MeasuredView"];
export type Point = NonNullable<Move["point"]>;
export type Box = Schemas["BoxView"];
export type Look = Schemas["LookView"];
export type PlaceNumbers = Schemas["PlaceView"];
export type Reading = Schemas["ReadingView"];
export type SceneState = Schemas["StateView"];
export type WorkBody = Schemas["WorkBody"];
export type Preview = Schemas["PreviewView"];
export type Said = Schemas["SaidView"];
export type SayBody = Schemas["SayBody"];
export type TextLine = Schemas["LineView"];
export type StepView = Schemas["StepView"];
export type Submissions = Schemas["SubmissionsView"];
export type Verdict = CheckResult["verdict"];
export type Work = Schemas["WorkView"];

/** Where the objects are, by id. */
export type Poses = Readonly<Record<string, Pose>>;
