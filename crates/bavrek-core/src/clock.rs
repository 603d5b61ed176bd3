//! The session's clock: when each part of a workout begins and how long it takes.
//!
//! It reads the script, so that order, sides and rests are those of the phone. A change of set-up goes on within the rest
//! before it; what it takes longer adds to the clock.

use crate::anatomy::vocabulary;
use crate::dose::sets_to;
use crate::fit::{Mate, block_conflicts};
use crate::kit::KitItem;
use crate::person::{Person, Side};
use crate::plan::BlockKind;
use crate::script::{Block, Script, Station, Turn};
use crate::set_ups;
use crate::units::Seconds;
use crate::warm_up::{Ahead, WarmUp, cool_down};

vocabulary!(
    /// What a stretch of time goes into.
    SpanKind {
        WarmUp => "warm_up", "warm-up";
        Ramp => "ramp", "sets on the way up";
        SetUp => "set_up", "setting up";
        Change => "change", "changing over";
        Rest => "rest", "rest";
        Work => "work", "work";
        CoolDown => "cool_down", "cool-down";
    }
);

/// A stretch of time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span<K> {
    /// What it goes into.
    pub kind: SpanKind,
    /// Whose it is; none of the whole session's.
    pub key: Option<K>,
    /// The block's place, where it is in one.
    pub block: Option<usize>,
    /// The set, from 0, where it is work.
    pub round: usize,
    /// When it begins.
    pub from: Seconds,
    /// How long it takes.
    pub long: Seconds,
}

/// All stretches of a workout, in order and without a gap.
#[derive(Debug, Clone, PartialEq)]
pub struct Clock<K> {
    /// In order.
    pub spans: Vec<Span<K>>,
}

impl<K: Copy + PartialEq> Clock<K> {
    /// The clock of a script with what goes before and after it.
    pub fn of(script: &Script<K>, warm_up: Option<&WarmUp<K>>, cool_down: Seconds) -> Self {
        let mut clock = Self { spans: Vec::new() };
        if let Some(warm_up) = warm_up {
            clock.push(SpanKind::WarmUp, None, None, 0, warm_up.before_all());
        }
        let mut begun: Vec<K> = Vec::new();
        for turn in script.turns.iter().filter(|t| is_expected(t)) {
            let first = !begun.contains(&turn.key);
            let at = (Some(turn.key), Some(turn.block), turn.round);
            let rest = (turn.rest_before.value() - turn.change_over.value()).max(0.0);
            clock.push(SpanKind::Rest, at.0, at.1, at.2, Seconds(rest));
            let change = if first { SpanKind::SetUp } else { SpanKind::Change };
            clock.push(change, at.0, at.1, at.2, turn.change_over);
            if first {
                begun.push(turn.key);
                let ramps = warm_up.iter().flat_map(|w| &w.ramps).filter(|r| r.key == turn.key);
                let ramps: f64 = ramps.map(|r| r.seconds.value()).sum();
                clock.push(SpanKind::Ramp, at.0, at.1, at.2, Seconds(ramps));
            }
            clock.push(SpanKind::Work, at.0, at.1, at.2, turn.work.expected_seconds());
        }
        clock.push(SpanKind::CoolDown, None, None, 0, cool_down);
        clock
    }

    /// The same with time that every round of a block costs more than its change-overs: a bench that is re-angled, an
    /// anchor that moves. It is spent before the round's first set, and within no rest.
    #[must_use]
    pub fn slowed(mut self, block: usize, a_round: Seconds) -> Self {
        let mut rounds: Vec<usize> = Vec::new();
        for i in 0..self.spans.len() {
            let span = self.spans[i];
            if span.block == Some(block) && span.kind == SpanKind::Work && !rounds.contains(&span.round) {
                rounds.push(span.round);
            }
        }
        // What is set up first is set up anyway.
        for round in rounds.into_iter().filter(|r| *r > 0) {
            let first = self.spans.iter().position(|s| s.block == Some(block) && s.round == round);
            if let Some(at) = first {
                let Span { key, .. } = self.spans[at];
                let span =
                    Span { kind: SpanKind::Change, key, block: Some(block), round, from: Seconds(0.0), long: a_round };
                self.spans.insert(at, span);
            }
        }
        let mut from = 0.0;
        for span in &mut self.spans {
            span.from = Seconds(from);
            from += span.long.value();
        }
        self
    }

    fn push(&mut self, kind: SpanKind, key: Option<K>, block: Option<usize>, round: usize, long: Seconds) {
        if long.value() > 0.0 {
            self.spans.push(Span { kind, key, block, round, from: self.total(), long });
        }
    }

    /// From the first minute to the last.
    pub fn total(&self) -> Seconds {
        self.spans.last().map_or(Seconds(0.0), |last| Seconds(last.from.value() + last.long.value()))
    }

    /// Time that goes into something.
    pub fn of_kind(&self, kind: SpanKind) -> Seconds {
        self.sum(|span| span.kind == kind)
    }

    /// Time of a block.
    pub fn of_block(&self, block: usize) -> Seconds {
        self.sum(|span| span.block == Some(block))
    }

    fn sum(&self, counts: impl Fn(&Span<K>) -> bool) -> Seconds {
        Seconds(self.spans.iter().filter(|s| counts(s)).map(|s| s.long.value()).sum())
    }
}

/// The clock of a session as it will be done: what stands already is not set up twice, heavy work is warmed up to, and what the
/// stations of a block cost each other is paid every round. Nothing takes no time. The side that begins changes none.
pub fn of_session<K: Copy + PartialEq>(
    person: &Person,
    kit: &[KitItem],
    blocks: &[(BlockKind, Vec<Ahead<'_, K>>)],
) -> Clock<K> {
    let ahead: Vec<Ahead<'_, K>> = blocks.iter().flat_map(|(_, stations)| stations.iter().copied()).collect();
    if ahead.is_empty() {
        return Clock { spans: Vec::new() };
    }
    let station = |a: &Ahead<'_, K>| Station::of(a.key, a.movement, a.step, a.dose.clone(), Side::Left);
    let mut written: Vec<Block<K>> = blocks
        .iter()
        .map(|(kind, stations)| Block { kind: *kind, stations: stations.iter().map(station).collect() })
        .collect();
    set_ups::settle(&mut written, &mates(&ahead));
    let mut clock = Clock::of(&Script::of(&written), Some(&WarmUp::of(person, &ahead)), cool_down());
    for (place, (kind, stations)) in blocks.iter().enumerate().filter(|(_, (kind, _))| *kind != BlockKind::Straight) {
        for conflict in block_conflicts(*kind, &mates(stations), kit) {
            clock = clock.slowed(place, conflict.added());
        }
    }
    clock
}

fn mates<'a, K>(stations: &[Ahead<'a, K>]) -> Vec<Mate<'a>> {
    stations.iter().map(|a| Mate { movement: a.movement, step: a.step }).collect()
}

/// Whether a turn is expected to be needed: a total has more turns than it usually takes.
fn is_expected<K>(turn: &Turn<K>) -> bool {
    turn.work.total.is_none_or(|total| turn.round < sets_to(total))
}
