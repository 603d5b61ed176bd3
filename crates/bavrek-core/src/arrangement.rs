//! How a session is put together: blocks of stations in order, and the moves by which a trainer changes that.

use crate::plan::BlockKind;

/// Stations done together.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Joined<B, K> {
    /// The block; none of one that a move has made.
    pub id: Option<B>,
    /// How its stations are done; of a single one straight.
    pub kind: BlockKind,
    /// In order.
    pub keys: Vec<K>,
}

/// Blocks in order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Arrangement<B, K> {
    /// In order; none is empty.
    pub blocks: Vec<Joined<B, K>>,
}

/// A move.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Move {
    /// One place earlier: within its block, with its block where it is first there or alone.
    Earlier,
    /// One place later, likewise.
    Later,
    /// Its block and the next become one; of the last, it and the one before.
    Join,
    /// Out of its block, on its own behind it.
    Part,
    /// Out of the session.
    TakeOut,
    /// Its block is done another way.
    Kind(BlockKind),
}

impl<B: Copy + PartialEq, K: Copy + PartialEq> Arrangement<B, K> {
    /// Where a station stands: its block's place and its own in it.
    pub fn find(&self, key: K) -> Option<(usize, usize)> {
        self.blocks.iter().enumerate().find_map(|(b, block)| Some((b, block.keys.iter().position(|k| *k == key)?)))
    }

    /// The arrangement after a move. `None` where the station is not there or the move changes nothing: the first cannot go
    /// earlier, a lone one cannot be parted.
    #[must_use]
    pub fn after(&self, key: K, change: Move) -> Option<Self> {
        let (b, s) = self.find(key)?;
        let mut moved = self.clone();
        match change {
            Move::Earlier if s > 0 => moved.blocks[b].keys.swap(s, s - 1),
            Move::Earlier if b > 0 => moved.blocks.swap(b, b - 1),
            Move::Later if s + 1 < moved.blocks[b].keys.len() => moved.blocks[b].keys.swap(s, s + 1),
            Move::Later if b + 1 < moved.blocks.len() => moved.blocks.swap(b, b + 1),
            Move::Join if moved.blocks.len() > 1 => {
                let first = b.min(moved.blocks.len() - 2);
                let second = moved.blocks.remove(first + 1);
                let joined = &mut moved.blocks[first];
                joined.kind = match (joined.keys.len(), second.keys.len()) {
                    (1, 1) => BlockKind::Superset,
                    (1, _) => second.kind,
                    _ if joined.kind == BlockKind::Straight => BlockKind::Circuit,
                    _ => joined.kind,
                };
                joined.keys.extend(second.keys);
            }
            Move::Part if moved.blocks[b].keys.len() > 1 => {
                moved.blocks[b].keys.remove(s);
                moved.blocks.insert(b + 1, Joined { id: None, kind: BlockKind::Straight, keys: vec![key] });
            }
            Move::TakeOut => {
                moved.blocks[b].keys.remove(s);
            }
            Move::Kind(kind) if moved.blocks[b].keys.len() > 1 => moved.blocks[b].kind = kind,
            _ => return None,
        }
        moved.blocks.retain(|block| !block.keys.is_empty());
        for block in moved.blocks.iter_mut().filter(|block| block.keys.len() == 1) {
            block.kind = BlockKind::Straight;
        }
        (moved != *self).then_some(moved)
    }
}
