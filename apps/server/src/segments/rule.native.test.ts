// The same rules on a PostgreSQL server, where Debian's is installed; where it isn't, that is said.
import { isNativeThere } from '@palabra/embedded-postgres/testing/native';
import { onServer } from '../testing/database.js';

if (isNativeThere()) {
  onServer();
  await import('./rule.store.test.js');
} else
  it('is not tried: no PostgreSQL server is installed', () => {
    process.stdout.write('No PostgreSQL server is installed: rules on one were not tried.\n');
  });
