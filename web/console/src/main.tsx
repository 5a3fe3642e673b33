import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Console } from './Console';
import './console.css';

createRoot(document.getElementById('console')!).render(
  <StrictMode>
    <BrowserRouter basename="/console">
      <Console />
    </BrowserRouter>
  </StrictMode>,
);
