// What a page is narrowed to stands in its address.
import { useLocation, useNavigation, useSearchParams, type SetURLSearchParams } from 'react-router';

/** While another page is on its way, what is still typed into this one would bring this one back: it is dropped. */
export function useSearch(): [URLSearchParams, SetURLSearchParams] {
  const [search, setSearch] = useSearchParams();
  const here = useLocation();
  const next = useNavigation().location;
  const isLeft = next !== undefined && next.pathname !== here.pathname;
  return [search, (...change) => (isLeft ? undefined : setSearch(...change))];
}
