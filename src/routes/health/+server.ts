export const GET = () => Response.json({ alive: true });
