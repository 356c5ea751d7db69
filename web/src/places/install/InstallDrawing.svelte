<script lang="ts">
  import type { Install } from "../../api/client";
  import { hang, length, type LengthUnit } from "../../units/format";

  let { install, unit }: { install: Install; unit: LengthUnit } = $props();

  let width = $state(350);
  const PAD = 52;
  // the socket stands outside, so both pictures leave room for it
  const outside = $derived(Math.min(install.away_cm, 60));
  const k = $derived((width - 2 * PAD) / (install.width_cm + outside));
  const right = $derived(install.corner.endsWith("right"));
  const back = $derived(install.corner.startsWith("back"));
  const left = $derived(PAD + (right ? 0 : outside * k));
  const X = $derived((cm: number) => left + cm * k);

  // from above: the back wall on top
  const floorHeight = $derived(install.depth_cm * k + 2 * 26);
  const Y = $derived((cm: number) => 26 + (install.depth_cm - cm) * k);
  const cornerX = $derived(X(right ? install.width_cm : 0));
  const cornerY = $derived(Y(back ? install.depth_cm : 0));
  const socketX = $derived(cornerX + (right ? 1 : -1) * outside * k);

  // from the front
  const sideHeight = $derived(install.height_cm * k + 2 * 20);
  const Z = $derived((cm: number) => 20 + (install.height_cm - cm) * k);
  const lamps = $derived(install.hanging.lamps);
  const span = (corners: number[][], at: 0 | 1): [number, number] => {
    const all = corners.map((corner) => corner[at] ?? 0);
    return [Math.min(...all), Math.max(...all)];
  };
  const middle = (corners: number[][], at: 0 | 1): number => {
    const [a, b] = span(corners, at);
    return (a + b) / 2;
  };
  /** Where hangers stand along a side, each place once; none where there are too many to read. */
  const places = (at: 0 | 1): number[] => {
    const all = lamps
      .flatMap((lamp) => lamp.marks_cm.map((mark) => mark[at] ?? 0))
      .sort((a, b) => a - b);
    const each = all.filter((cm, i) => i === 0 || cm - (all[i - 1] ?? 0) > 0.5);
    return each.length <= 4 ? each : [];
  };
  const outline = (corners: number[][]): string =>
    corners.map(([x, y]) => `${X(x ?? 0)},${Y(y ?? 0)}`).join(" ");
</script>

<div bind:clientWidth={width}>
  <p class="quiet text-sm">From above, the back on top. Crosses: hangers.</p>
  <svg
    {width}
    height={floorHeight}
    role="img"
    aria-label="The tent from above: {lamps
      .flatMap((lamp) => lamp.marks_cm)
      .map(
        ([x, y]) =>
          `a hanger ${length(x ?? 0, unit)} from the left and ${length(y ?? 0, unit)} from the front`,
      )
      .join('; ')}"
  >
    <rect
      x={X(0)}
      y={Y(install.depth_cm)}
      width={install.width_cm * k}
      height={install.depth_cm * k}
      class="wall"
    />
    {#each lamps as lamp, i (i)}
      {@const mx = middle(lamp.corners_cm, 0)}
      {@const my = middle(lamp.corners_cm, 1)}
      <polygon points={outline(lamp.corners_cm)} class="lamp" />
      <path d="M{X(mx)} {Y(my)} H{cornerX} V{cornerY}" class="cord" />
      {#each lamp.marks_cm as [x, y], m (m)}
        {@const px = X(x ?? 0)}
        {@const py = Y(y ?? 0)}
        <path
          d="M{px - 6} {py - 6} L{px + 6} {py + 6} M{px - 6} {py + 6} L{px + 6} {py - 6}"
          class="mark"
        />
      {/each}
    {/each}
    <!-- a tape along the back and along the side away from the socket -->
    {#each places(0) as cm (cm)}
      <line
        x1={X(cm)}
        x2={X(cm)}
        y1={Y(install.depth_cm) - 6}
        y2={Y(install.depth_cm)}
        class="tape"
      />
      <text x={X(cm)} y={Y(install.depth_cm) - 9} text-anchor="middle">{length(cm, unit)}</text>
    {/each}
    {#each places(1) as cm (cm)}
      {@const far = right ? X(0) : X(install.width_cm)}
      <line x1={far} x2={far + (right ? -6 : 6)} y1={Y(cm)} y2={Y(cm)} class="tape" />
      <text x={far + (right ? -9 : 9)} y={Y(cm) + 4} text-anchor={right ? "end" : "start"}
        >{length(cm, unit)}</text
      >
    {/each}
    <path d="M{cornerX} {cornerY} H{socketX}" class="cord" />
    <rect x={socketX - 6} y={cornerY - 6} width="12" height="12" class="socket" />
    <text x={X(install.width_cm / 2)} y={floorHeight - 8} text-anchor="middle"
      >front, {length(install.width_cm, unit)} wide</text
    >
  </svg>
  <p class="quiet text-sm">From the front, as on the first day.</p>
  <svg
    {width}
    height={sideHeight}
    role="img"
    aria-label="The tent from the front: light-giving face {hang(
      lamps[0]?.face_cm ?? 0,
      unit,
    )} above the floor, tops at {length(install.tops_cm, unit)}, socket {length(
      install.socket_cm,
      unit,
    )} above the floor"
  >
    <rect
      x={X(0)}
      y={Z(install.height_cm)}
      width={install.width_cm * k}
      height={install.height_cm * k}
      class="wall"
    />
    <line
      x1={X(0)}
      x2={X(install.width_cm)}
      y1={Z(install.tops_cm)}
      y2={Z(install.tops_cm)}
      class="tops"
    />
    <text x={X(0) + 6} y={Z(install.tops_cm) - 5}>tops {length(install.tops_cm, unit)}</text>
    {#each lamps as lamp, i (i)}
      {@const [a, b] = span(lamp.corners_cm, 0)}
      {@const top = lamp.face_cm + install.body_cm}
      {#each lamp.marks_cm as [x], m (m)}
        <line x1={X(x ?? 0)} x2={X(x ?? 0)} y1={Z(install.height_cm)} y2={Z(top)} class="rope" />
      {/each}
      <rect
        x={X(a)}
        y={Z(top)}
        width={(b - a) * k}
        height={Math.max(install.body_cm * k, 4)}
        class="lamp"
      />
      {#if i === 0}
        <text x={X((a + b) / 2)} y={Z(lamp.face_cm) + 16} text-anchor="middle"
          >face {hang(lamp.face_cm, unit)}</text
        >
      {/if}
      <path
        d="M{X((a + b) / 2)} {Z(top)} V{Z(install.height_cm) + 4} H{cornerX} V{Z(
          install.socket_cm,
        )}"
        class="cord"
      />
    {/each}
    <!-- the loop hangs lower than the socket -->
    <path
      d="M{cornerX} {Z(install.socket_cm)} Q{(cornerX + socketX) / 2} {Z(
        Math.max(install.socket_cm - 30, 4),
      ) + 10} {socketX} {Z(install.socket_cm)}"
      class="cord"
    />
    <rect x={socketX - 6} y={Z(install.socket_cm) - 6} width="12" height="12" class="socket" />
    {#if install.driver_outside}
      <rect
        x={Math.min(cornerX, socketX) + Math.abs(socketX - cornerX) / 2 - 9}
        y={Z(install.socket_cm) - 34}
        width="18"
        height="11"
        class="driver"
      />
      <text x={(cornerX + socketX) / 2} y={Z(install.socket_cm) - 40} text-anchor="middle"
        >driver</text
      >
    {/if}
    <text x={X(install.width_cm / 2)} y={sideHeight - 4} text-anchor="middle"
      >floor; ceiling at {length(install.height_cm, unit)}, socket at {length(
        install.socket_cm,
        unit,
      )}</text
    >
  </svg>
</div>

<style>
  text {
    font-size: 12px;
    fill: var(--color-base-content);
  }
  .wall {
    fill: var(--color-base-100);
    stroke: var(--quiet);
  }
  .lamp {
    fill: color-mix(in srgb, var(--light) 45%, var(--color-base-100));
    stroke: var(--light-edge);
  }
  .mark {
    stroke: var(--color-error);
    stroke-width: 2.5;
  }
  .cord {
    fill: none;
    stroke: var(--color-info);
    stroke-width: 2;
    stroke-dasharray: 7 3;
  }
  .tape {
    stroke: var(--color-base-content);
  }
  .rope {
    stroke: var(--quiet);
    stroke-dasharray: 2 3;
  }
  .tops {
    stroke: var(--leaf);
    stroke-width: 3;
  }
  .socket,
  .driver {
    fill: var(--color-neutral);
  }
</style>
