import config from "./playwright.config";

/** Not tests: they keep docs/screenshots current (make screenshots). */
export default { ...config, testDir: "screenshots", testMatch: "*.ts", timeout: 240_000 };
