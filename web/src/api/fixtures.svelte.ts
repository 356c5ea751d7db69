/** The grower's lamps: kinds on the shelf, and pieces of them that are their own. */

import {
  answer,
  client,
  type FileText,
  type Estimate,
  type Fixture,
  type FixtureIn,
  type HalfKnown,
  type MapIn,
  type MapLayer,
  type MapsBeside as Beside,
  type PhotometryIn,
  type Piece,
  type PieceIn,
  type TableRead,
} from "./client";
import { madeOn, Rows } from "./rows.svelte";

const of = (fixture_id: number): { path: { fixture_id: number } } => ({ path: { fixture_id } });

class Fixtures extends Rows<Fixture> {
  async load(): Promise<void> {
    this.all = await answer(client.GET("/api/fixtures"));
  }

  save(id: number | null, body: FixtureIn): Promise<Fixture> {
    if (id === null) return this.kept(answer(client.POST("/api/fixtures", { body })));
    const params = { ...of(id), header: madeOn(this.of(id)) };
    return this.kept(answer(client.PUT("/api/fixtures/{fixture_id}", { params, body })));
  }

  /** What a lamp whose PPF nobody states may give; nothing is kept. */
  estimates(body: HalfKnown): Promise<Estimate[]> {
    return answer(client.POST("/api/fixtures/estimate", { body }));
  }

  /** Let a lamp have the PPF that one of its maps speaks for. */
  takePpf(id: number, map_id: number): Promise<Fixture> {
    const params = { path: { fixture_id: id, map_id }, header: madeOn(this.of(id)) };
    const path = "/api/fixtures/{fixture_id}/maps/{map_id}/ppf" as const;
    return this.kept(answer(client.PUT(path, { params })));
  }

  takeOffShelf(id: number, removed: boolean): Promise<Fixture> {
    const path = "/api/fixtures/{fixture_id}/shelf" as const;
    return this.kept(answer(client.PUT(path, { params: of(id), body: { removed } })));
  }

  /** Keep one lamp of a kind as one's own, or what is its own. */
  savePiece(id: number, piece: Piece | null, body: PieceIn): Promise<Fixture> {
    if (!piece) {
      const path = "/api/fixtures/{fixture_id}/pieces" as const;
      return this.kept(answer(client.POST(path, { params: of(id), body })));
    }
    const params = { path: { piece_id: piece.id }, header: madeOn(piece) };
    const path = "/api/fixtures/pieces/{piece_id}" as const;
    return this.keptPiece(answer(client.PUT(path, { params, body })));
  }

  putPieceAway(piece_id: number, removed: boolean): Promise<Fixture> {
    const params = { path: { piece_id } };
    const path = "/api/fixtures/pieces/{piece_id}/aside" as const;
    return this.keptPiece(answer(client.PUT(path, { params, body: { removed } })));
  }

  /** A piece that was changed elsewhere comes alone: the lamps are asked for again. */
  private async keptPiece(pending: Promise<Fixture>): Promise<Fixture> {
    try {
      return this.put(await pending);
    } catch (error) {
      await this.load();
      throw error;
    }
  }

  /** Add the lamp of a fixture file; returns the fields nobody knows. */
  async addFile(text: string): Promise<{ fixture: Fixture; ignored: string[] }> {
    const found = await answer(client.POST("/api/fixtures/file", { body: { text } }));
    this.put(found.fixture);
    return found;
  }

  file(id: number): Promise<FileText> {
    return answer(client.GET("/api/fixtures/{fixture_id}/file", { params: of(id) }));
  }

  spectrumFile(id: number): Promise<FileText> {
    return answer(client.GET("/api/fixtures/{fixture_id}/spectrum", { params: of(id) }));
  }

  attachSpectrum(id: number, text: string): Promise<Fixture> {
    const path = "/api/fixtures/{fixture_id}/spectrum" as const;
    return this.kept(answer(client.PUT(path, { params: of(id), body: { text } })));
  }

  /** Add the lamps of a shelf table, base64. */
  async addTable(
    content: string,
    keep: "all" | "good",
    same: "ask" | "replace" | "both" | "skip",
  ): Promise<TableRead> {
    const body = { content, keep, same };
    const read = await answer(client.POST("/api/fixtures/table", { body }));
    if (read.added || read.replaced) await this.load();
    return read;
  }

  attachPhotometry(id: number, body: PhotometryIn): Promise<Fixture> {
    const path = "/api/fixtures/{fixture_id}/photometry" as const;
    return this.kept(answer(client.PUT(path, { params: of(id), body })));
  }

  importMap(id: number, body: MapIn): Promise<Fixture> {
    const path = "/api/fixtures/{fixture_id}/maps" as const;
    return this.kept(answer(client.POST(path, { params: of(id), body })));
  }

  setMapAside(id: number, map_id: number, removed: boolean): Promise<Fixture> {
    const params = { path: { fixture_id: id, map_id } };
    const path = "/api/fixtures/{fixture_id}/maps/{map_id}" as const;
    return this.kept(answer(client.PUT(path, { params, body: { removed } })));
  }

  /** Maps of one lamp, each at one of its heights, on the spots of the first; nothing is kept. */
  mapsBeside(id: number, maps: MapLayer[]): Promise<Beside> {
    const path = "/api/fixtures/{fixture_id}/maps/beside" as const;
    return answer(client.POST(path, { params: of(id), body: { maps } }));
  }

  async mapTable(id: number, map_id: number): Promise<string> {
    const params = { path: { fixture_id: id, map_id } };
    const path = "/api/fixtures/{fixture_id}/maps/{map_id}/table" as const;
    return (await answer(client.GET(path, { params }))).text;
  }

  useLightSource(
    id: number,
    light_source: Fixture["light_source"],
    map_id: number | null = null,
  ): Promise<Fixture> {
    const path = "/api/fixtures/{fixture_id}/light-source" as const;
    const body = { light_source, map_id };
    return this.kept(answer(client.PUT(path, { params: of(id), body })));
  }
}

export const fixtures = new Fixtures();
