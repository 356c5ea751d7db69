/** The grower's devices, and what they say of a plan. */

import {
  answer,
  client,
  type Device,
  type DeviceCommand,
  type DeviceCurve,
  type DeviceIn,
  type DeviceMade,
  type Door,
  type HandIn,
  type QuantityName,
  type Watched,
} from "./client";
import { newKey } from "./key";
import { madeOn, Rows } from "./rows.svelte";

const ONE = "/api/devices/{device_id}" as const;

class Devices extends Rows<Device> {
  /** What the devices of a plan said last. */
  watched = $state.raw<Watched | null>(null);

  /** Counts what was changed here: a list asked for before that is out of date. */
  private changes = 0;

  async load(): Promise<void> {
    const before = this.changes;
    const rows = await answer(client.GET("/api/devices"));
    if (before === this.changes) this.all = rows;
  }

  override put(row: Device): Device {
    this.changes++;
    return super.put(row);
  }

  /** The devices whose readings are of a space: its own, its lamps', its circuit's. */
  in(spaceId: number, fixtures: number[], circuitId: number | null): Device[] {
    return this.present.filter(
      (device) =>
        device.space_id === spaceId ||
        (device.fixture_id !== null && fixtures.includes(device.fixture_id)) ||
        (device.circuit_id !== null && device.circuit_id === circuitId),
    );
  }

  /** Carry the simulated light sensor to a spot; real ones are carried by hand. */
  async carry(body: HandIn): Promise<boolean> {
    return (await answer(client.POST("/api/devices/hand", { body }))).carried;
  }

  private at(id: number): { path: { device_id: number }; header: { "If-Match"?: string } } {
    return { path: { device_id: id }, header: madeOn(this.of(id)) };
  }

  async add(body: DeviceIn): Promise<DeviceMade> {
    const made = await answer(client.POST("/api/devices", { body }));
    this.put(made.device);
    return made;
  }

  change(id: number, body: DeviceIn): Promise<Device> {
    return this.kept(answer(client.PUT(ONE, { params: this.at(id), body })));
  }

  pause(id: number, paused: boolean): Promise<Device> {
    const call = client.PUT(`${ONE}/paused`, { params: this.at(id), body: { paused } });
    return this.kept(answer(call));
  }

  putAway(id: number, removed: boolean): Promise<Device> {
    const call = client.PUT(`${ONE}/aside`, { params: this.at(id), body: { removed } });
    return this.kept(answer(call));
  }

  async newToken(id: number): Promise<DeviceMade> {
    const made = await answer(client.PUT(`${ONE}/token`, { params: this.at(id) }));
    this.put(made.device);
    return made;
  }

  revoke(id: number): Promise<Device> {
    return this.kept(answer(client.DELETE(`${ONE}/token`, { params: this.at(id) })));
  }

  mapTopic(id: number, topic: string | null): Promise<Device> {
    const call = client.PUT(`${ONE}/topic`, { params: this.at(id), body: { topic } });
    return this.kept(answer(call));
  }

  curve(id: number, quantity: QuantityName, channel: number, hours: number): Promise<DeviceCurve> {
    const params = { path: { device_id: id }, query: { quantity, channel, hours } };
    return answer(client.GET(`${ONE}/curve`, { params }));
  }

  commands(id: number): Promise<DeviceCommand[]> {
    return answer(client.GET(`${ONE}/commands`, { params: { path: { device_id: id } } }));
  }

  sendPlan(id: number, run_id: number): Promise<DeviceCommand> {
    const header = { "Idempotency-Key": newKey() };
    const params = { path: { device_id: id }, query: { run_id }, header };
    return answer(client.POST(`${ONE}/schedule`, { params }));
  }

  door(): Promise<Door> {
    return answer(client.GET("/api/devices/door"));
  }

  /** Ask what the devices of a plan say; without any device nobody is asked. */
  async watch(run_id: number): Promise<void> {
    if (!this.present.length) {
      this.watched = null;
      return;
    }
    this.watched = await answer(
      client.GET("/api/devices/watch", { params: { query: { run_id } } }),
    );
  }
}

export const devices = new Devices();
