// How a country dials, from the numbering plans of the world.
import {
  getCountries,
  getCountryCallingCode,
  Metadata,
  type CountryCode,
} from 'libphonenumber-js/min';
import type { Dialling } from './field.js';

const isCountry = (country: string): country is CountryCode =>
  (getCountries() as readonly string[]).includes(country);

/** Undefined for what is no country (ISO 3166), and where nobody dials. */
export function diallingOf(country: string): Dialling | undefined {
  if (!isCountry(country)) return undefined;
  const plans = new Metadata();
  plans.selectNumberingPlan(country);
  // The types of the library leave it out.
  const plan = plans.numberingPlan as { nationalPrefix?: () => string | undefined } | undefined;
  return {
    country,
    code: getCountryCallingCode(country),
    trunk: plan?.nationalPrefix?.() ?? '',
  };
}
