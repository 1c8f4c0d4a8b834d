import type { MeReply, OfficeReply } from '@palabra/contract/office';
import { allowed, seesEverybody, type Deed } from '@palabra/core/office';
import { createContext, useContext } from 'react';

interface Signed {
  readonly user: NonNullable<MeReply['user']>;
  readonly office: OfficeReply;
}

export const OfficeContext = createContext<Signed | undefined>(undefined);

/** Who is signed in, and the office; only below the shell. */
export function useOffice(): Signed {
  const signed = useContext(OfficeContext);
  if (!signed) throw new Error('nobody is signed in');
  return signed;
}

/** Whether who is signed in sees everybody's people, or only their own. */
export const useSeesEverybody = (): boolean => seesEverybody(useOffice().user.role);

export const useMay = (deed: Deed): boolean => allowed(useOffice().user.role, deed);
