import { useWhole } from "../../base/store";
import { recorder } from "./recorder";

export const useRecorder = () => useWhole(recorder);
