import config from "./playwright.config";

/** Not tests: how long a person's way takes (make bench), one at a time. */
export default { ...config, testDir: "bench", testMatch: "*.ts", globalSetup: undefined, workers: 1, timeout: 240_000 };
