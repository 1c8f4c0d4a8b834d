// What is said of a file, kept on the server as it is said.
import type { ImportPlan, ImportReply } from '@palabra/contract/intake';
import { useDraft, type Draft } from '../api/drafts';
import { useSavePlanMutation } from './intake.api';

export function usePlan({ id, plan, planVersion }: ImportReply): Draft<ImportPlan> {
  const [save] = useSavePlanMutation();
  return useDraft<ImportPlan>({
    value: plan,
    version: planVersion,
    save: async (value, version) => ({
      version: (await save({ id, ...copied(value), version }).unwrap()).planVersion,
    }),
    read: (current: { readonly plan: ImportPlan }) => current.plan,
    // Nothing beside the plan hangs on it.
    follow: () => undefined,
  });
}

/** Requests are of lists that may be written to. */
const copied = (plan: ImportPlan) => ({
  ...plan,
  mapping: [...plan.mapping],
  tagIds: [...plan.tagIds],
  tagsMeant: [...plan.tagsMeant],
  owners: [...plan.owners],
  fieldsMade: [...plan.fieldsMade],
});
