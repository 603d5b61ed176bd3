// What is tapped of a set: what is sent of it, and what is still wrong with it.
export const fresh = () => ({
  reps: "",
  seconds: "",
  rir: "",
  side: "",
  pain: "",
  painAt: "",
  painSide: "",
  broken: false,
  seen: [],
  feltAt: "",
  changedAfter: "",
  changedTo: "",
});

// The fields of a set. Where it hurts is told only with how strong: a place alone is no pain.
export function fieldsOf(form, { turn, oneSided, side, rir, stop }) {
  const hurts = form.pain !== "" && form.pain !== "0";
  const all = [
    ["reps", form.reps],
    ["seconds", form.seconds],
    ["rir", turn.reserve === null || stop ? "" : rir],
    ["side", oneSided ? side : ""],
    ["pain", hurts ? form.pain : ""],
    ["pain_at", hurts ? form.painAt : ""],
    ["pain_side", hurts ? form.painSide : ""],
    ["form", form.broken ? "broken" : ""],
    ["felt_at", form.feltAt],
    ["changed_after", form.changedTo && !stop ? form.changedAfter : ""],
    ["changed_to", stop ? "" : form.changedTo],
    ["stop", stop ? "1" : ""],
  ];
  return [...all.filter(([, value]) => value !== ""), ...form.seen.map((id) => ["seen", id])];
}

// What is wrong, in a sentence; empty where nothing is.
export function wrongIn(form, turn, stop) {
  const whole = (text, least, most) => /^\d+$/.test(text) && Number(text) >= least && Number(text) <= most;
  if (stop && (form.pain === "" || form.pain === "0")) return "Say how strong it is, from 1 to 10.";
  if (Number(form.pain || 0) >= 4 && form.painAt === "") return "Say where it hurts, so that it can be spared.";
  if (stop && form.reps === "") return "";
  const open = form.reps === "" && turn.uncounted;
  if (turn.reps && !open && !whole(form.reps, 0, 100)) return "Tap or type how many repetitions were done, 0 to 100.";
  if (form.changedTo && !whole(form.changedAfter, 1, Number(form.reps) - 1))
    return "Changed within the set: say after how many repetitions, fewer than all of them.";
  if (turn.seconds && !whole(form.seconds, 1, 900)) return "Tap or type the seconds, 1 to 900.";
  return "";
}
