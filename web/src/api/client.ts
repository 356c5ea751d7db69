/** The generated client, the CSRF header, and one kind of error. */

import createClient, { type Middleware } from "openapi-fetch";

import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Space = Schemas["SpaceOut"];
export type SpaceIn = Schemas["SpaceIn"];
export type Lining = Schemas["Lining"];
export type Fixture = Schemas["FixtureOut"];
export type FixtureIn = Schemas["FixtureIn"];
export type PhotometryIn = Schemas["PhotometryIn"];
export type MapIn = Schemas["MapIn"];
export type LightMap = Schemas["MapOut"];
export type MapsBeside = Schemas["BesideOut"];
export type BesideMap = Schemas["BesideMapOut"];
export type MapLayer = Schemas["LayerIn"];
export type LampIn = Schemas["LampIn"];
export type RunLamp = Schemas["LampOut"];
export type HungLamp = Schemas["HungLampOut"];
export type Stand = Schemas["StandIn"];
export type Plot = Schemas["PlotIn"];
export type TariffBand = Schemas["TariffBandIn"];
export type Daylight = NonNullable<SpaceIn["daylight"]>;
export type Heat = Schemas["HeatIn"];
export type LibraryCrop = Schemas["LibraryCrop"];
export type Opinions = Schemas["OpinionsOut"];
export type FixtureDetails = NonNullable<FixtureIn["details"]>;
export type HalfKnown = Schemas["HalfKnownIn"];
export type Estimate = Schemas["EstimateOut"];
export type OriginName = keyof NonNullable<FixtureIn["origins"]>;
export type Origin = NonNullable<NonNullable<FixtureIn["origins"]>[OriginName]>;
export type Finding = Schemas["FindingOut"];
export type Trust = Finding["trust"];
export type Light = Schemas["LightOut"];
export type Listing = Schemas["ListingOut"];
export type Reading = Listing["readings"][number];
export type TableRead = Schemas["TableReadOut"];
export type Compared = Schemas["CompareOut"];
export type CompareIn = Schemas["CompareIn"];
export type ShelfAnswer = Schemas["ShelfOut"];
export type ShelfRow = ShelfAnswer["rows"][number];
export type Season = Schemas["SeasonOut"];
export type SeasonWishes = Schemas["SeasonWishesIn"];
export type LeverName = Bench["locked"][number];
export type Crop = Schemas["CropOut"];
export type CropIn = Schemas["CropIn"];
export type Stage = Schemas["StageOut"];
export type StageIn = Schemas["StageIn"];
export type Run = Schemas["RunOut"];
export type RunIn = Schemas["RunIn"];
export type Bench = Schemas["BenchOut"];
export type LiningGains = Schemas["LiningGainsOut"];
export type PlantLabel = Schemas["LabelOut"];
export type Hanging = Schemas["HangingOut"];
export type Stretch = Schemas["StretchOut"];
export type Limit = Schemas["LimitOut"];
export type LimitName = Limit["name"];
export type Obstacle = Schemas["ObstacleOut"];
export type Grower = Schemas["GrowerOut"];
export type Preferences = Schemas["Preferences"];
export type Piece = Schemas["PieceOut"];
export type PieceIn = Schemas["PieceIn"];
export type PastSetting = Schemas["PastSettingOut"];
export type PastSettingIn = Schemas["PastSettingIn"];
export type Rack = Schemas["RackOut"];
export type Power = Schemas["PowerOut"];
export type WayToLight = Schemas["WayOut"];
export type Sheet = Schemas["SheetOut"];
export type Circuit = Schemas["CircuitOut"];
export type CircuitIn = Schemas["CircuitIn"];
export type CircuitPreset = Schemas["PresetOut"];
export type Load = Schemas["LoadIn"];
export type SpacePower = Schemas["SpacePowerOut"];
export type SpacePowerIn = Schemas["SpacePowerIn"];
export type TariffIn = Schemas["TariffIn"];
export type Install = Schemas["InstallOut"];
export type InstallStep = Schemas["StepOut"];
export type StepName = InstallStep["name"];
export type TickIn = Schemas["TickIn"];
export type EndIn = Schemas["EndIn"];
export type PlanRow = Schemas["PlanRowOut"];
export type LogEntry = Schemas["EntryOut"];
export type TodayRun = Schemas["TodayOut"];
export type DayToday = Schemas["DayTodayOut"];
export type Due = Schemas["DueOut"];
export type Causes = Schemas["SeenOut"];
export type Cause = Causes["causes"][number];
export type Feed = Schemas["FeedOut"];
export type ToSet = Schemas["ToSetOut"];
export type Away = Schemas["AwayOut"];
export type LogEntryIn = Schemas["EntryIn"];
export type LinePiece = Schemas["LinePieceOut"];
export type LightGiven = Schemas["GivenLightOut"];
export type TopsSeen = Schemas["TopsOut"];
export type WalkAsked = Schemas["WalkAsked"];
export type WalkEntry = Schemas["WalkEntryIn"];
export type WalkRow = Schemas["WalkRowOut"];
export type WalkKept = Schemas["WalkOut"];
export type WalkTable = Schemas["WalkTableOut"];
export type WalkTableIn = Schemas["WalkTableIn"];
export type ComparedHere = Schemas["ComparedHereOut"];
export type ByWatts = Schemas["WattsOut"];
export type WattsIn = Schemas["WattsIn"];
export type HandIn = Schemas["HandIn"];
export type Device = Schemas["DeviceOut"];
export type DeviceIn = Schemas["DeviceIn"];
export type DeviceMade = Schemas["MadeOut"];
export type DeviceSaid = Schemas["DeviceSaidOut"];
export type LastReading = Schemas["LastOut"];
export type QuantityName = LastReading["quantity"];
export type DeviceCurve = Schemas["CurveOut"];
export type DeviceCommand = Schemas["CommandOut"];
export type Door = Schemas["DoorOut"];
export type BrokerTopic = Schemas["TopicOut"];
export type Watched = Schemas["WatchedOut"];
export type Offer = Schemas["OfferOut"];
export type Sensor = Schemas["SensorOut"];
export type SensorIn = Schemas["SensorIn"];
export type FitIn = Schemas["FitIn"];
export type FitFound = Schemas["FitOut"];
export type FitsHere = Schemas["FitsOut"];
export type ExpectIn = Schemas["ExpectIn"];
export type Expected = Schemas["ExpectedOut"];
export type LightFigure = Schemas["LightFigureOut"];
export type NextReading = Schemas["NextReadingOut"];
export type ChangeIn = Schemas["ChangeIn"];
export type ChangeSeen = Schemas["ChangeOut"];
export type DialReading = Schemas["DialReadingIn"];
export type DialCurve = Schemas["DialCurveOut"];
export type RackIn = Schemas["RackIn"];
export type RackAnswer = Schemas["RackAnswerOut"];
export type MapSum = Schemas["MapSumOut"];
export type MapSumIn = Schemas["MapSumIn"];
export type SumIn = Schemas["SumIn"]["asked"];
export type Worked = Schemas["WorkedOut"];
export type Position = Schemas["PositionOut"];
export type Positions = Schemas["PositionsOut"];
export type TakenBack = Schemas["TakenBackOut"];
export type CopyIn = Schemas["CopyIn"];
export type PlansBeside = Schemas["PlansOut"];
export type PlanBeside = PlansBeside["plans"][number];
export type FloorDifference = Schemas["FloorDifferenceOut"];
export type FileText = Schemas["FileOut"];
export type Review = Schemas["ReviewOut"];
export type StageReview = Review["stages"][number];
export type SignReview = Review["signs"][number];
export type Drift = Schemas["DriftOut"];
export type Brought = Schemas["BroughtOut"];

/** A refusal: a sentence, and a sentence for each field concerned. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    sentence: string,
    readonly fields: Record<string, string> = {},
    /** The row as it now stands, where a change came too late. */
    readonly present: unknown = null,
  ) {
    super(sentence);
  }
}

export const OFFLINE =
  "The server does not answer. What you typed is still here; try again in a moment.";
const MISTAKE =
  "Something went wrong on this page; what you typed is still here. Try again, or reload the page.";

/** How often a request is sent again to a server that is busy, and says when to. */
const TRIES = 3;
const LONGEST_WAIT_S = 5;

async function patiently(request: Request): Promise<Response> {
  for (let tried = 0; ; tried++) {
    const last = tried >= TRIES;
    const reply = await globalThis.fetch(last ? request : request.clone());
    const wait = Number(reply.headers.get("Retry-After"));
    if (reply.status !== 503 || last || !(wait > 0)) return reply;
    await new Promise((done) => setTimeout(done, Math.min(wait, LONGEST_WAIT_S) * 1000));
  }
}

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

const csrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
};

export const client = createClient<paths>({
  baseUrl: globalThis.location?.origin ?? "",
  fetch: patiently,
});
client.use(csrf);

interface Reply<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

function refusal(status: number, body: unknown): Refusal {
  const problem = body as {
    detail?: string;
    errors?: { field: string; sentence: string }[];
    present?: unknown;
  } | null;
  const fields = Object.fromEntries((problem?.errors ?? []).map((e) => [e.field, e.sentence]));
  const sentence = problem?.detail ?? "The server could not do that. Try again.";
  return new Refusal(status, sentence, fields, problem?.present);
}

/** The reply's data, or a Refusal. */
export async function answer<T>(pending: Promise<Reply<T>>): Promise<T> {
  let reply: Reply<T>;
  try {
    reply = await pending;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    // fetch throws a TypeError when nobody answers
    throw new Refusal(0, error instanceof TypeError ? OFFLINE : MISTAKE);
  }
  const { response, data } = reply;
  if (!response.ok || (data === undefined && response.status !== 204))
    throw refusal(response.status, reply.error);
  return data as T;
}

/** Whether a request found no server. */
export function unanswered(error: unknown): boolean {
  return error instanceof Refusal && error.status === 0 && error.message === OFFLINE;
}

/** What a person is told of anything that was thrown. */
export function asRefusal(error: unknown): Refusal {
  return error instanceof Refusal ? error : new Refusal(0, MISTAKE);
}
