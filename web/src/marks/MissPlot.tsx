// Where everybody came to in one check: around the target in three elevations, on a dial, or on lines, to scale.
import { useNavigate } from "react-router";
import type { CheckInsight } from "../api/types";
import { nth } from "../ui/lists";
import { measured, short } from "../ui/numbers";
import { elevations, onPaper, passesAt, reachOf, shapeOf } from "./miss";

type Dot = CheckInsight["dots"][number];
type Props = { check: CheckInsight; up: string; factor: number };

export function MissPlot(props: Props) {
  const shape = shapeOf(props.check);
  return (
    <div className="flex flex-wrap gap-4">
      {shape === "around" &&
        elevations(props.up).map((elevation) => <Around key={elevation.name} {...props} {...elevation} />)}
      {shape === "dial" && <Dial {...props} />}
      {shape === "lines" &&
        lineNames(props.check).map((name, axis) => <Line key={name} {...props} name={name} axis={axis} />)}
    </div>
  );
}

function lineNames(check: CheckInsight): readonly string[] {
  return check.axes.length > 0 ? check.axes : [check.unit ? "Difference" : "Off"];
}

const SIZE = 200;
const EDGE = 10;

type SignProps = { x: number; y: number; dot: Dot; passes: boolean; beyond: boolean };

/** A dot opens its submission. One beyond the paper stands at the edge, as a diamond. */
function Sign({ x, y, dot, passes, beyond }: SignProps) {
  const navigate = useNavigate();
  const open = () => navigate(`/result/${dot.submission}`);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a link cannot stand in a drawing
    <g
      transform={`translate(${x} ${y})`}
      role="link"
      tabIndex={-1}
      onClick={open}
      onKeyDown={(event) => event.key === "Enter" && open()}
      className={`cursor-pointer ${passes ? "fill-pass/60 stroke-pass" : "fill-fail/60 stroke-fail"}`}
    >
      <title>{`${dot.name}: ${passes ? "passes" : "misses"}, ${measured(dot.off)} tolerances off`}</title>
      {beyond ? <path d="M0 -5L5 0L0 5L-5 0Z" /> : passes ? <circle r={4} /> : <path d="M-4 -4H4V4H-4Z" />}
    </g>
  );
}

type AroundProps = Props & { name: string; across: number; along: number };

function Around({ check, factor, name, across, along }: AroundProps) {
  const reach = reachOf(check, factor);
  const scale = (SIZE / 2 - EDGE) / reach;
  const half = (axis: number) =>
    Math.min((check.tolerance[axis] ?? nth(check.tolerance, 0)) * factor, reach) * scale;
  const round = check.tolerance.length === 1;
  return (
    <figure className="w-[13.5rem]">
      <svg viewBox={`0 0 ${SIZE} ${SIZE}`} className="w-full rounded-md border border-hairline bg-sheet">
        <title>{`${name}: where students ended up`}</title>
        <g transform={`translate(${SIZE / 2} ${SIZE / 2})`}>
          <path d={`M${-SIZE} 0H${SIZE}M0 ${-SIZE}V${SIZE}`} className="stroke-hairline" />
          {round ? (
            <circle r={half(0)} className="fill-pass/15 stroke-pass" strokeDasharray="3 2" />
          ) : (
            <rect
              x={-half(across)}
              y={-half(along)}
              width={2 * half(across)}
              height={2 * half(along)}
              className="fill-pass/15 stroke-pass"
              strokeDasharray="3 2"
            />
          )}
          {check.dots.map((dot) => {
            const { x, y, beyond } = onPaper(nth(dot.miss, across), nth(dot.miss, along), reach);
            return (
              <Sign
                key={dot.submission}
                x={x * scale}
                y={-y * scale}
                dot={dot}
                passes={passesAt(dot, factor)}
                beyond={beyond}
              />
            );
          })}
        </g>
      </svg>
      <figcaption className="text-center text-sm text-ink-soft">
        {name}: {check.axes[across]} across, {check.axes[along]} up; to {short(Number(reach.toPrecision(2)))}{" "}
        {check.unit}
      </figcaption>
    </figure>
  );
}

/** Half a turn: nothing off is at the top. */
function Dial({ check, factor }: Props) {
  const half = check.unit === "rad" ? Math.PI : 180;
  const radius = SIZE - 2 * EDGE;
  const at = (value: number, r: number) => {
    const angle = (Math.min(value, half) / half) * Math.PI;
    return [SIZE + Math.sin(angle) * r, SIZE - Math.cos(angle) * r] as const;
  };
  const allowed = Math.min(nth(check.tolerance, 0) * factor, half);
  const [x, y] = at(allowed, radius);
  return (
    <figure className="w-[15rem]">
      <svg
        viewBox={`${SIZE - EDGE} 0 ${SIZE + 2 * EDGE} ${2 * SIZE}`}
        className="h-72 w-full rounded-md border border-hairline bg-sheet"
      >
        <title>Rotation error</title>
        <path
          d={`M${SIZE} ${SIZE}L${SIZE} ${SIZE - radius}A${radius} ${radius} 0 0 1 ${x} ${y}Z`}
          className="fill-pass/20 stroke-pass"
        />
        <path
          d={`M${SIZE} ${SIZE - radius}A${radius} ${radius} 0 0 1 ${SIZE} ${SIZE + radius}Z`}
          className="fill-none stroke-edge"
        />
        {[0, 0.25, 0.5, 0.75, 1].map((part) => {
          const [tx, ty] = at(part * half, radius - 22);
          return (
            <text key={part} x={tx} y={ty + 5} textAnchor="middle" className="fill-ink-soft text-[14px]">
              {measured(part * half)}
            </text>
          );
        })}
        {check.dots.map((dot, place) => {
          const [dx, dy] = at(Math.abs(nth(dot.miss, 0)), radius - 4 - (place % 4) * 11);
          return (
            <Sign
              key={dot.submission}
              x={dx}
              y={dy}
              dot={dot}
              passes={passesAt(dot, factor)}
              beyond={false}
            />
          );
        })}
      </svg>
      <figcaption className="text-center text-sm text-ink-soft">Rotation error, in {check.unit}</figcaption>
    </figure>
  );
}

const LONG = 420;

function Line({ check, factor, name, axis }: Props & { name: string; axis: number }) {
  const reach = reachOf(check, factor);
  const signed_ = check.dots.some((dot) => (dot.miss[axis] ?? 0) < 0);
  const zero = signed_ ? LONG / 2 : EDGE;
  const scale = (LONG - EDGE - zero) / reach;
  const allowed = Math.min((check.tolerance[axis] ?? nth(check.tolerance, 0)) * factor, reach) * scale;
  return (
    <figure className="w-full max-w-lg">
      <svg viewBox={`0 0 ${LONG} 64`} className="w-full rounded-md border border-hairline bg-sheet">
        <title>{`${name}: where students ended up`}</title>
        <rect
          x={signed_ ? zero - allowed : zero}
          y={36}
          width={signed_ ? 2 * allowed : allowed}
          height={12}
          className="fill-pass/20 stroke-pass"
        />
        <path d={`M${EDGE} 42H${LONG - EDGE}M${zero} 34V50`} className="stroke-edge" />
        {check.dots.map((dot, place) => {
          const value = dot.miss[axis] ?? 0;
          const x = zero + Math.max(-1, Math.min(1, value / reach)) * reach * scale;
          return (
            <Sign
              key={dot.submission}
              x={Math.max(EDGE, Math.min(LONG - EDGE, x))}
              y={30 - (place % 3) * 9}
              dot={dot}
              passes={passesAt(dot, factor)}
              beyond={Math.abs(value) > reach}
            />
          );
        })}
        <text x={LONG - EDGE} y={61} textAnchor="end" className="fill-ink-soft text-[11px]">
          {short(Number(reach.toPrecision(2)))} {check.unit}
        </text>
      </svg>
      <figcaption className="text-sm text-ink-soft">{name}</figcaption>
    </figure>
  );
}
