// White paper, whatever the desk is like: what is on it is drawn as by day.
import { MantineProvider } from '@mantine/core';
import { useState, type ReactNode } from 'react';
import { theme, variables } from '../ui/theme';
import classes from './letters.module.css';

export function Paper({ children }: { readonly children: ReactNode }) {
  const [sheet, setSheet] = useState<HTMLElement | null>(null);
  const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? '';
  return (
    <div ref={setSheet} id="paper" className={classes.paper}>
      {sheet && (
        <MantineProvider
          theme={theme}
          cssVariablesResolver={variables}
          forceColorScheme="light"
          cssVariablesSelector="#paper"
          getRootElement={() => sheet}
          getStyleNonce={() => nonce}
          deduplicateCssVariables={false}
          withGlobalClasses={false}
        >
          {children}
        </MantineProvider>
      )}
    </div>
  );
}
