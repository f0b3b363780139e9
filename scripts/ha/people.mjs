// Who works in the demo, for a load that signs in as they do.
export const DEMO_PASSWORD = "orrin-vale-demo";
export const TECHNICIANS = ["jory", "tamsin", "wren", "ines"].map((name) => `${name}@fennmoor.example`);
