import type { Account, OfficeReply } from '@palabra/contract/office';
import { allowed, type Deed } from '@palabra/core/office';
import { createContext, useContext } from 'react';

interface Signed {
  readonly user: Account;
  readonly office: OfficeReply;
}

export const OfficeContext = createContext<Signed | undefined>(undefined);

/** Who is signed in, and the office; only below the shell. */
export function useOffice(): Signed {
  const signed = useContext(OfficeContext);
  if (!signed) throw new Error('nobody is signed in');
  return signed;
}

export const useMay = (deed: Deed): boolean => allowed(useOffice().user.role, deed);
