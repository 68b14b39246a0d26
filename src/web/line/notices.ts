import type { ExternalToast } from 'sonner';

/**
 * Short notices at the foot of the page. What draws them is fetched with the first one: a page that has nothing
 * to say does without.
 */
const said =
  (kind: 'success' | 'warning' | 'error' | 'info') => (text: string, more?: ExternalToast) => {
    void import('../parts/NoticeArea.tsx').then(({ showNotice }) => showNotice(kind, text, more));
  };

export const notice = {
  success: said('success'),
  warning: said('warning'),
  error: said('error'),
  info: said('info'),
};
