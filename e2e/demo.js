// Who signs in to the demo scenario.
export const EMAIL = "trainer@bavrek.example";
export const PASSWORD = "paper-and-ink";
