//! What would make a board better as a whole: an order in which less is set up anew, a partner that is not in the way.

use std::collections::BTreeMap;

use bavrek_core::dose::Prescription;
use bavrek_core::fit::{BlockConflict, Mate, block_conflicts, may_replace};
use bavrek_core::plan::BlockKind;
use bavrek_core::set_ups;
use bavrek_core::units::Seconds;
use uuid::Uuid;

use super::table::{Done, Table, Together};
use crate::pictures::strip::minutes;

/// Least time for which partners are changed, s: a set's worth of rest. Assumed.
const WORTH: f64 = 20.0;

/// Another order of the blocks.
pub(super) struct OrderView {
    /// Places of the blocks now, in the new order: `2,0,1`.
    pub(super) order: String,
    pub(super) text: String,
}

/// Another partner for a station of a block.
pub(super) struct PartnerView {
    pub(super) slot: Uuid,
    pub(super) other: Uuid,
    pub(super) words: String,
}

impl Done<'_> {
    pub(super) const fn mate(&self) -> Mate<'_> {
        Mate { movement: self.movement, step: &self.fit.step }
    }
}

fn mates<'t>(block: &'t Together<'_>) -> Vec<Mate<'t>> {
    block.done().map(Done::mate).collect()
}

fn doses(table: &Table<'_>) -> BTreeMap<Uuid, Prescription> {
    table.pieces().filter_map(|p| Some((p.slot.id, p.done.as_ref()?.fit.prescription.clone()))).collect()
}

fn laid(table: &Table<'_>) -> Vec<(BlockKind, Vec<Uuid>)> {
    table.blocks.iter().map(|b| (b.kind, b.pieces.iter().map(|p| p.slot.id).collect())).collect()
}

/// The order of the blocks in which least is set up anew; none where they lie so already.
pub(super) fn order(table: &Table<'_>) -> Option<Vec<usize>> {
    let blocks: Vec<Vec<Mate<'_>>> = table.blocks.iter().map(mates).collect();
    set_ups::fewest(&blocks).map(|order| order.blocks)
}

/// The same in words, with what it saves.
pub(super) fn order_view(table: &Table<'_>) -> Option<OrderView> {
    let order = order(table)?;
    let set_up = |order: &mut dyn Iterator<Item = usize>| -> f64 {
        let stations: Vec<Mate<'_>> = order.flat_map(|i| mates(&table.blocks[i])).collect();
        set_ups::in_order(&stations).iter().map(|s| s.value()).sum()
    };
    let spared = set_up(&mut (0..table.blocks.len())) - set_up(&mut order.iter().copied());
    let (blocks, doses) = (laid(table), doses(table));
    let after: Vec<_> = order.iter().map(|i| blocks[*i].clone()).collect();
    let saved = table.long(&blocks, &doses).value() - table.long(&after, &doses).value();
    let minutes = if saved >= 6.0 {
        format!(", {} min in all", minutes(Seconds(saved)))
    } else {
        "; the minutes stay, the rests are long enough for it".to_owned()
    };
    let name = |i: &usize| {
        let names: Vec<&str> = table.blocks[*i].done().map(|d| d.movement.name.as_str()).collect();
        (!names.is_empty()).then(|| names.join(" + "))
    };
    let names: Vec<String> = order.iter().filter_map(name).collect();
    Some(OrderView {
        order: order.iter().map(usize::to_string).collect::<Vec<_>>().join(","),
        text: format!("In another order {spared:.0} s less of setting up{minutes}: {}.", names.join(", then ")),
    })
}

/// Another order of a block's stations.
pub(super) struct TurnsView {
    /// Any slot of the block.
    pub(super) slot: Uuid,
    /// Places of the stations now, in the new order: `0,2,1,3`.
    pub(super) order: String,
    pub(super) text: String,
}

/// The order of a circuit's stations in which least is changed over; none of other blocks, or where they lie so already.
pub(super) fn turns(table: &Table<'_>, block: &Together<'_>) -> Option<set_ups::Turns> {
    let whole = block.kind == BlockKind::Circuit && block.pieces.iter().all(|p| p.done.is_some());
    set_ups::turns(&mates(block), &table.scene.place.kit).filter(|_| whole)
}

/// The same in words, with what it saves.
pub(super) fn turns_view(table: &Table<'_>, block: &Together<'_>) -> Option<TurnsView> {
    let turns = turns(table, block)?;
    let names: Vec<&str> = block.done().map(|d| d.movement.name.as_str()).collect();
    let order: Vec<&str> = turns.stations.iter().filter_map(|i| names.get(*i).copied()).collect();
    let again = block.rounds.saturating_sub(1) as f64;
    Some(TurnsView {
        slot: block.pieces.first()?.slot.id,
        order: turns.stations.iter().map(usize::to_string).collect::<Vec<_>>().join(","),
        text: format!(
            "In other turns {:.0} s less a round, {} min in all: {}.",
            turns.spared.value(),
            minutes(turns.spared * again),
            order.join(", then ")
        ),
    })
}

/// The lone piece that would take a station's place so that a conflict goes and the session is shorter.
pub(super) fn partner(table: &Table<'_>, block: &Together<'_>, conflict: &BlockConflict) -> Option<PartnerView> {
    let stations: Vec<(Uuid, &Done<'_>)> =
        block.pieces.iter().filter_map(|p| Some((p.slot.id, p.done.as_ref()?))).collect();
    let lone = table.blocks.iter().filter(|b| b.pieces.len() == 1).filter_map(|b| {
        let piece = b.pieces.first()?;
        Some((piece.slot.id, piece.done.as_ref()?))
    });
    let lone: Vec<(Uuid, &Done<'_>)> = lone.collect();
    let (blocks, doses) = (laid(table), doses(table));
    let now = table.long(&blocks, &doses).value();
    let pairs = conflict.stations.iter().flat_map(|s| lone.iter().map(move |other| (*s, other)));
    let saves = |(station, (other, done)): (usize, &(Uuid, &Done<'_>))| {
        let (slot, own) = stations.get(station)?;
        let mut tried: Vec<&Done<'_>> = stations.iter().map(|(_, d)| *d).collect();
        tried[station] = done;
        let movements: Vec<_> = tried.iter().map(|d| d.movement).collect();
        may_replace(own.movement, done.movement, block.kind, &movements).then_some(())?;
        let mates: Vec<Mate<'_>> = tried.iter().map(|d| d.mate()).collect();
        block_conflicts(block.kind, &mates, &table.scene.place.kit).is_empty().then_some(())?;
        let swap = |id: &Uuid| match id {
            id if id == slot => *other,
            id if id == other => *slot,
            id => *id,
        };
        let after: Vec<_> = blocks.iter().map(|(kind, ids)| (*kind, ids.iter().map(swap).collect())).collect();
        let saved = now - table.long(&after, &doses).value();
        let words =
            format!("{} in place of {}: {} min less", done.movement.name, own.movement.name, minutes(Seconds(saved)));
        (saved >= WORTH).then_some((saved, PartnerView { slot: *slot, other: *other, words }))
    };
    pairs.filter_map(saves).max_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, view)| view)
}
