/** For whoever restarts what has fallen: the process lives. Whether it can serve, `/ready` tells. */
export const loader = () => Response.json({ ok: true });
