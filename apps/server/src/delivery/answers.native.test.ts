// The same on a PostgreSQL server, where Debian's is installed; where it isn't, that is said.
import { isNativeThere } from '@palabra/embedded-postgres/testing/native';
import { onServer } from '../testing/database.js';

if (isNativeThere()) {
  onServer();
  await import('./answers.test.js');
} else
  it('is not tried: no PostgreSQL server is installed', () => {
    process.stdout.write('No PostgreSQL server is installed: answers on one were not tried.\n');
  });
