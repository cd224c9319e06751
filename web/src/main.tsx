import { QueryClientProvider } from '@tanstack/react-query';
import { Tooltip } from 'radix-ui';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './App';
import { queries } from './api/queries';
import { putOnPreferences } from './stores/preferencesStore';
import { putOnTheme } from './stores/viewStore';
import './styles.css';
import './ui/nonce';
import { Unbroken } from './page/Broken';
import { Toasts } from './page/Toasts';
import { RowTip } from './ui/RowTip';

putOnTheme();
putOnPreferences();
const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <Tooltip.Provider>
          <Unbroken>
            <App />
          </Unbroken>
          <Toasts />
          <RowTip />
        </Tooltip.Provider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
