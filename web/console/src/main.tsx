import { createRoot } from 'react-dom/client';

createRoot(document.getElementById('console')!).render(<p>Console</p>);
