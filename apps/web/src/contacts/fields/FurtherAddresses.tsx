// Letters go to the first address of a person; a further one becomes the first.
import { Act } from '../../ui/text';

interface FurtherAddressesProps {
  readonly first: string;
  /** As they are typed, with semicolons between. */
  readonly further: string;
  readonly onChange: (values: {
    readonly address: string;
    readonly more_addresses: string;
  }) => void;
}

export function FurtherAddresses({ first, further, onChange }: FurtherAddressesProps) {
  const all = further.split(/[;,\s]+/).filter((one) => one !== '');
  return all.map((address) => (
    <Act
      key={address}
      onClick={() =>
        onChange({
          address,
          more_addresses: [first, ...all.filter((one) => one !== address)]
            .filter((one) => one !== '')
            .join('; '),
        })
      }
    >
      Write to {address}
    </Act>
  ));
}
