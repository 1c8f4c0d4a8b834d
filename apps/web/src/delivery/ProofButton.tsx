// A letter to oneself, as a reader gets it.
import { Button } from '@mantine/core';
import { command } from '../ui/command';
import { useProofMutation } from './delivery.api';

export function ProofButton({
  id,
  flush,
}: {
  readonly id: number | undefined;
  /** Keeps the sheet first; undefined when that did not work. */
  readonly flush: () => Promise<number | undefined>;
}) {
  const [proof, proofing] = useProofMutation();
  const go = async (): Promise<void> => {
    if (id === undefined || (await flush()) === undefined) return;
    await command({
      run: () => proof(id).unwrap(),
      says: ({ to }) => `A proof is on its way to ${to}. It is counted nowhere.`,
    });
  };
  return (
    <Button
      variant="default"
      disabled={id === undefined}
      loading={proofing.isLoading}
      onClick={() => void go()}
    >
      Proof to myself
    </Button>
  );
}
