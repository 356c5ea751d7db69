/** The words of the trade, each explained to someone who never read about light. */

export interface TermText {
  name: string;
  text: string;
}

export const TERMS = {
  ppfd: {
    name: "PPFD",
    text: "How much light plants can use falls on a square metre each second, in µmol/m²/s: about 100 deep in a room, 200–400 for cuttings, 2000 in full sun.",
  },
  dli: {
    name: "DLI, a day's light",
    text: "All the light of a day on a square metre, in mol/m²: PPFD × hours × 0.0036. It is what plants live on: herbs ask 12–16, tomatoes 20–30.",
  },
  band: {
    name: "The band",
    text: "From the least to the most of a day's light (or of PPFD) this stage should have. Inside it all is well; below plants stretch, above it is wasted or harms.",
  },
  cap: {
    name: "The cap on the brightest spot",
    text: "The leaf in the brightest place has to stand its light too. The cap is the PPFD no spot may pass, or tops bleach.",
  },
  mean: {
    name: "Mean",
    text: "The light of the whole floor, or of where plants stand, spread evenly. Makers like to quote the middle instead, which is brighter.",
  },
  evenness: {
    name: "Evenness, dimmest spot over mean",
    text: "How dark the darkest place is beside the average: 1 is the same everywhere, 0.6 is usual in a tent. A goal for it keeps corner plants from falling behind.",
  },
  uniformities: {
    name: "Evenness, counted in several ways",
    text: "min / max: darkest over brightest. min / mean: darkest over average. Variation: how far spots lie from the average, as a share. Christiansen's: 1 is perfectly even. Compare only figures counted in one way.",
  },
  capture: {
    name: "Light that reaches the canopy",
    text: "Of all the light the lamp gives, the share that lands on the plants' tops. The rest goes into walls, floor edges and gaps. Closer and better lined is more; in a white tent light bounces and counts again.",
  },
  lit: {
    name: "Where a lever's track is lit",
    text: "Every position at which all targets are met, the other two left as they are. Plain yellow: met even if the estimate is off. Striped: met by the figures, not for sure.",
  },
  rails: {
    name: "Height, dial and hours",
    text: "Three levers on one target: nearer, brighter and longer all give more light in the day. Lock one, and the plan moves the other two.",
  },
  sure: {
    name: "How sure",
    text: "The light is computed from the lamp's figures and the walls. Nine times out of ten the truth lies inside the range given. A few readings at plant level make it narrower.",
  },
  schools: {
    name: "What others would do",
    text: "Growers hang lamps by different rules of thumb: as low as the brightest spot allows, as even as possible, by the maker's chart, by watts. Each is worked out for this very tent.",
  },
  trip: {
    name: "A trip to the tent",
    text: "A day on which somebody has to change something: raise the lamp, turn the dial, set the timer. All done on one day is one trip.",
  },
  easing: {
    name: "Easing in",
    text: "Plants take about 15 % more light a day without harm. A bigger step is spread over days.",
  },
  night: {
    name: "The night",
    text: "The longest time without lamp or daylight. Some plants flower only after long nights; a short light in the middle breaks them.",
  },
  daylength: {
    name: "Long days, short days",
    text: "Short-day plants, like chrysanthemums, flower when nights are long; long-day plants the other way; neutral ones do not mind.",
  },
  ppf: {
    name: "PPF",
    text: "All the light plants can use that a lamp gives each second, in µmol/s, wherever it goes. Not lumens, which count for eyes.",
  },
  efficacy: {
    name: "Light per watt",
    text: "PPF over watts at the plug, in µmol/J: 2.5 is a good white lamp, 1 an old tube. Above about 3.5 doubt it.",
  },
  reserve: {
    name: "More it could give",
    text: "How much brighter the lamp could be than the plan needs: new, and after the years of light, when it has faded.",
  },
  beam: {
    name: "How narrow the beam is",
    text: "Bare diodes spread wide (1). Lenses and deep reflectors throw the light down in a narrower cone (2 and more): brighter in the middle, darker at the edge.",
  },
} satisfies Record<string, TermText>;

export type TermName = keyof typeof TERMS;
