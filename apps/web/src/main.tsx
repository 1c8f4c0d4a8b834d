import '@mantine/core/styles.css';
import '@mantine/notifications/styles.css';
import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css';
import './ui/theme/frame.css';
import { MantineProvider } from '@mantine/core';
import { setNonce } from 'get-nonce';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router';
import { officeApi } from './office/office.api';
import { router } from './shell/routes';
import { store } from './shell/store';
import { theme, variables } from './ui/theme';

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? '';
// For the style that keeps the page still behind a dialog.
setNonce(nonce);
const root = document.getElementById('root');
if (!root) throw new Error('the page has no root');

// Who asks is wanted on every screen: it is on its way while the screen is fetched.
void store.dispatch(officeApi.endpoints.me.initiate());

createRoot(root).render(
  <StrictMode>
    <Provider store={store}>
      <MantineProvider
        theme={theme}
        cssVariablesResolver={variables}
        defaultColorScheme="auto"
        getStyleNonce={() => nonce}
      >
        <RouterProvider router={router} />
      </MantineProvider>
    </Provider>
  </StrictMode>,
);
