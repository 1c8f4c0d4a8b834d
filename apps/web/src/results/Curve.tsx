import { Spark } from '../ui/numbers';
import { useResultQuery } from './results.api';

/** First opens by people, step by step, as a small curve. */
export function Curve({ id }: { readonly id: number }) {
  const { data } = useResultQuery(id);
  if (!data || data.points.length < 2) return null;
  return <Spark points={data.points.map(({ opened }) => opened)} label={`Opens by ${data.step}`} />;
}
