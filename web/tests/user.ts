/** Hands on the page, by the tests' own clock. */

import userEvent from "@testing-library/user-event";
import { vi } from "vitest";

export const user = userEvent.setup({ advanceTimers: (ms) => void vi.advanceTimersByTime(ms) });
