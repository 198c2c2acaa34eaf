// The pictures of the help: drawn lines in the same colours as the scene, with a title each for who cannot see them.
import type { ReactNode } from "react";

function Picture({ title, children }: { title: string; children: ReactNode }) {
  return (
    <svg
      viewBox="0 0 400 130"
      role="img"
      aria-label={title}
      className="w-full rounded-md border border-hairline bg-paper"
    >
      {children}
    </svg>
  );
}

const TONES = { X: "var(--axis-x)", Y: "var(--axis-y)", Z: "var(--axis-z)" };

type ArrowProps = {
  from: readonly [number, number];
  to: readonly [number, number];
  axis: keyof typeof TONES;
};

function Arrow({ from, to, axis }: ArrowProps) {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy);
  const [ux, uy] = [dx / length, dy / length];
  const head = [
    to,
    [to[0] - 9 * ux - 4 * uy, to[1] - 9 * uy + 4 * ux],
    [to[0] - 9 * ux + 4 * uy, to[1] - 9 * uy - 4 * ux],
  ];
  return (
    <g fill={TONES[axis]} stroke={TONES[axis]}>
      <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} strokeWidth={2} />
      <polygon points={head.map((p) => p.join(",")).join(" ")} />
      <text
        x={to[0] + 9 * ux}
        y={to[1] + 9 * uy + 4}
        textAnchor="middle"
        stroke="none"
        fontSize={13}
        fontWeight={700}
      >
        {axis}
      </text>
    </g>
  );
}

function Words({ x, y, children }: { x: number; y: number; children: string }) {
  return (
    <text x={x} y={y} textAnchor="middle" fontSize={13} fill="var(--ink)">
      {children}
    </text>
  );
}

const BOX = { fill: "var(--well)", stroke: "var(--scene-edge)", strokeWidth: 1.5 };

export function AxesPicture() {
  return (
    <Picture title="One axis is a line, two a plane, three free: X to the right, Y up, Z toward you">
      <Arrow from={[35, 80]} to={[110, 80]} axis="X" />
      <Words x={70} y={118}>
        one: a line
      </Words>
      <polygon points="165,85 225,85 225,35 165,35" fill="var(--plum-soft)" />
      <Arrow from={[165, 85]} to={[240, 85]} axis="X" />
      <Arrow from={[165, 85]} to={[165, 26]} axis="Y" />
      <Words x={200} y={118}>
        two: a plane
      </Words>
      <Arrow from={[310, 75]} to={[375, 75]} axis="X" />
      <Arrow from={[310, 75]} to={[310, 24]} axis="Y" />
      <Arrow from={[310, 75]} to={[280, 96]} axis="Z" />
      <Words x={335} y={118}>
        three: free
      </Words>
    </Picture>
  );
}

export function SpacesPicture() {
  return (
    <Picture title="A turned box with the world axes and with its own, turned axes">
      <g transform="rotate(-25 95 65)">
        <rect x={65} y={45} width={60} height={40} {...BOX} />
      </g>
      <Arrow from={[95, 65]} to={[165, 65]} axis="X" />
      <Arrow from={[95, 65]} to={[95, 24]} axis="Y" />
      <Words x={95} y={122}>
        World
      </Words>
      <g transform="rotate(-25 295 65)">
        <rect x={265} y={45} width={60} height={40} {...BOX} />
      </g>
      <Arrow from={[295, 65]} to={[358, 36]} axis="X" />
      <Arrow from={[295, 65]} to={[276, 26]} axis="Y" />
      <Words x={295} y={122}>
        Local
      </Words>
    </Picture>
  );
}

export function PivotsPicture() {
  return (
    <Picture title="A gate swings about a pivot on its edge and spins about one in its middle">
      <rect x={50} y={52} width={100} height={14} {...BOX} opacity={0.45} />
      <g transform="rotate(-32 50 59)">
        <rect x={50} y={52} width={100} height={14} {...BOX} />
      </g>
      <circle cx={50} cy={59} r={5} fill="var(--plum)" />
      <Words x={100} y={118}>
        pivot on the edge: swings
      </Words>
      <rect x={250} y={52} width={100} height={14} {...BOX} opacity={0.45} />
      <g transform="rotate(-32 300 59)">
        <rect x={250} y={52} width={100} height={14} {...BOX} />
      </g>
      <circle cx={300} cy={59} r={5} fill="var(--plum)" />
      <Words x={300} y={118}>
        in the middle: spins in place
      </Words>
    </Picture>
  );
}
