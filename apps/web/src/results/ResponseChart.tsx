import type { ResultPoint } from '@palabra/contract/results';
import {
  CartesianGrid,
  Line,
  LineChart,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { count } from '../ui/numbers';
import { clock, day, dayAndClock } from '../ui/time';
import classes from './results.module.css';

interface Props {
  readonly points: readonly ResultPoint[];
  readonly step: 'minute' | 'hour';
  readonly zone: string;
}

const STEP_MS = { minute: 60_000, hour: 3_600_000 } as const;
const MOST_POINTS = 400;

/** Steps in which nothing happened are nothing, not a gap. */
function filled(
  points: readonly ResultPoint[],
  step: Props['step'],
): { at: number; opened: number; clicked: number; machines: number }[] {
  const known = points.map((point) => ({ ...point, at: Date.parse(point.at) }));
  const [first, last] = [known[0], known.at(-1)];
  if (!first || !last) return [];
  const out = [];
  let next = 0;
  for (
    let at = first.at - STEP_MS[step];
    at <= last.at + STEP_MS[step] && out.length < MOST_POINTS;
    at += STEP_MS[step]
  ) {
    const point = known[next];
    if (point && point.at < at + STEP_MS[step] / 2) {
      out.push(point);
      next++;
    } else out.push({ at, opened: 0, clicked: 0, machines: 0 });
  }
  return out;
}

/** Round numbers up to at least `most`: three or four steps of 1, 1.5, 2, 3 or 5 times a power of ten. */
function rounds(most: number): number[] {
  const unit = 10 ** Math.floor(Math.log10(most / 3));
  const step =
    [1, 1.5, 2, 3, 5, 10]
      .map((times) => times * unit)
      .find((size) => Number.isInteger(size) && size * 4 > most) ?? unit * 10;
  return Array.from({ length: Math.ceil(most / step) + 1 }, (_, at) => at * step);
}

/** What runs out of the axis is cut at its top, and says how far it goes. */
const above = (best: number, text: string) =>
  function Above({ x, index }: { x?: number | string; index?: number }) {
    return index === best ? (
      <text x={Number(x) + 8} y={12} fill="var(--soft)" fontSize={12}>
        {text}
      </text>
    ) : (
      <g />
    );
  };

export function ResponseChart({ points, step, zone }: Props) {
  const data = filled(points, step);
  const tick = (at: number): string =>
    step === 'hour' && clock(zone, new Date(at)) === '0:00'
      ? day(zone, new Date(at))
      : clock(zone, new Date(at));
  const peak = (key: 'opened' | 'clicked'): number =>
    data.reduce((best, point, at) => (point[key] > (data[best]?.[key] ?? 0) ? at : best), 0);
  // Machines come all at once; the axis is for people, and what machines do may run out of it.
  const most = Math.max(
    4,
    ...data.map(({ opened, clicked }) => Math.ceil(Math.max(opened, clicked) * 1.15)),
  );
  const marks = rounds(most);
  const top = marks.at(-1) ?? most;
  const machines = Math.max(0, ...data.map((point) => point.machines));
  const shown = data.map((point) => ({ ...point, machines: Math.min(point.machines, top) }));
  const spike = data.findIndex((point) => point.machines === machines);
  /** The name of a line stands at its highest point, instead of a legend. */
  const name = (key: 'opened' | 'clicked', text: string, colour: string) => {
    const best = peak(key);
    return function Name({
      x,
      y,
      index,
    }: {
      x?: number | string;
      y?: number | string;
      index?: number;
    }) {
      return index === best ? (
        <text x={Number(x) + 10} y={Number(y) - 6} fill={colour} fontSize={13} fontWeight={700}>
          {text}
        </text>
      ) : (
        <g />
      );
    };
  };
  return (
    <div
      role="img"
      aria-label={`Opens and clicks by ${step}. First opens at their highest: ${data[peak('opened')]?.opened ?? 0} in one ${step}.`}
      className={classes.chart}
    >
      <ResponsiveContainer width="100%" height="100%">
        <LineChart data={shown} margin={{ top: 16, right: 90, bottom: 4, left: 0 }}>
          <CartesianGrid vertical={false} stroke="var(--hair)" />
          <XAxis
            dataKey="at"
            type="number"
            scale="time"
            domain={['dataMin', 'dataMax']}
            tickFormatter={tick}
            tick={{ fill: 'var(--soft)', fontSize: 12 }}
            tickLine={false}
            axisLine={{ stroke: 'var(--hair)' }}
            minTickGap={50}
          />
          <YAxis
            allowDecimals={false}
            width={44}
            domain={[0, top]}
            ticks={marks}
            interval={0}
            tick={{ fill: 'var(--soft)', fontSize: 12 }}
            tickLine={false}
            axisLine={false}
          />
          <Tooltip
            isAnimationActive={false}
            labelFormatter={(at) => dayAndClock(zone, new Date(Number(at)))}
            contentStyle={{
              border: '1px solid var(--hair)',
              background: 'var(--paper)',
              fontSize: 13,
            }}
            itemStyle={{ color: 'var(--ink)' }}
          />
          <Line
            name="by machines"
            dataKey="machines"
            stroke="var(--data-machine)"
            strokeDasharray="3 4"
            dot={false}
            isAnimationActive={false}
            label={machines > top ? above(spike, `machines, up to ${count(machines)}`) : undefined}
          />
          <Line
            name="opened by people"
            dataKey="opened"
            stroke="var(--data-one)"
            strokeWidth={2.2}
            dot={false}
            isAnimationActive={false}
            label={name('opened', 'opened by people', 'var(--data-one)')}
          />
          <Line
            name="clicked"
            dataKey="clicked"
            stroke="var(--data-two)"
            strokeWidth={2.2}
            dot={false}
            isAnimationActive={false}
            label={name('clicked', 'clicked', 'var(--data-two-text)')}
          />
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}
