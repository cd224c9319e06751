/** All tools: every folder here with an `index.tsx`. */
import { registerTools, type Tool } from '../hand/tool';

const found = import.meta.glob<{ TOOL: Tool }>('./*/index.tsx', { eager: true });
registerTools(Object.values(found).map(({ TOOL }) => TOOL));
