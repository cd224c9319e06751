/** The word by which the page's policy knows styles that its own parts put in while it runs. */
import { setNonce } from 'get-nonce';

export const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';

setNonce(nonce);
