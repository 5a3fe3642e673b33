import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Console } from './Console';
import { speak } from './words';
import 'virtual:antd.css';
import './console.css';

await speak();

createRoot(document.getElementById('console')!).render(
  <StrictMode>
    <BrowserRouter basename="/console">
      <Console />
    </BrowserRouter>
  </StrictMode>,
);
