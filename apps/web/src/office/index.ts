export { Accounts } from './Accounts';
export {
  useAccountsQuery,
  useMeQuery,
  useSignOutMutation,
  useStandstillsQuery,
  useWelcomedMutation,
} from './office.api';
export { OfficeContext, useMay, useOffice, useSeesEverybody } from './OfficeContext';
export { OfficeForm } from './OfficeForm';
export { OwnAccount, PasswordForm } from './OwnAccount';
export { Sessions } from './Sessions';
export { Standstill } from './Standstill';
