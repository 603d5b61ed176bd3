//! Tables for a spreadsheet: as CSV (RFC 4180, UTF-8) and as a workbook with a sheet a table.

use std::io;

use chrono::{NaiveDate, NaiveDateTime};
use rust_xlsxwriter::{Format, FormatBorder, Workbook, Worksheet, XlsxError};

use crate::archive::harmless;

/// Longest text of a cell: the most that a spreadsheet takes.
const LONGEST: usize = 32_767;

/// What stands in a cell.
#[derive(Debug, Clone, PartialEq, Default)]
pub enum Cell {
    /// Nothing.
    #[default]
    Nothing,
    /// A text.
    Text(String),
    /// A number in the unit that its column's head names.
    Number(f64),
    /// A day.
    Day(NaiveDate),
    /// A moment, in the time zone that its column's head names.
    Moment(NaiveDateTime),
}

impl Cell {
    /// A text; nothing where it is empty.
    pub fn text(text: impl Into<String>) -> Self {
        let text = text.into();
        if text.is_empty() { Self::Nothing } else { Self::Text(text) }
    }

    /// A number rounded to so many decimals; nothing where there is none or it is not finite.
    pub fn rounded(number: Option<f64>, decimals: i32) -> Self {
        let scale = 10_f64.powi(decimals);
        let number = number.filter(|n| n.is_finite()).map(|n| (n * scale).round() / scale);
        // There is no minus nothing.
        number.map_or(Self::Nothing, |n| Self::Number(n + 0.0))
    }

    /// A whole number.
    pub fn whole(number: Option<impl Into<f64>>) -> Self {
        number.map_or(Self::Nothing, |n| Self::Number(n.into()))
    }

    /// The cell in a CSV: numbers with a point, days as in ISO 8601, no text that a spreadsheet takes for a formula.
    fn plain(&self) -> String {
        match self {
            Self::Nothing => String::new(),
            Self::Text(text) => harmless(text),
            Self::Number(number) => number.to_string(),
            Self::Day(day) => day.to_string(),
            Self::Moment(at) => at.format("%Y-%m-%d %H:%M:%S").to_string(),
        }
    }
}

/// A table with its heads; units stand in the heads.
#[derive(Debug, Clone, PartialEq)]
pub struct Table {
    /// Its name, at most 31 characters: also that of its sheet.
    pub name: &'static str,
    /// The heads of its columns.
    pub heads: Vec<&'static str>,
    /// Its rows, each as long as the heads.
    pub rows: Vec<Vec<Cell>>,
}

impl Table {
    /// The table as CSV: UTF-8 with its mark, so that spreadsheets take it for what it is; lines end as RFC 4180 says.
    pub fn csv(&self) -> io::Result<Vec<u8>> {
        let mut out =
            csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer("\u{feff}".as_bytes().to_vec());
        out.write_record(&self.heads)?;
        for row in &self.rows {
            out.write_record(row.iter().map(Cell::plain))?;
        }
        out.into_inner().map_err(csv::IntoInnerError::into_error)
    }
}

/// Tables as one workbook: a sheet each, heads that stay in sight, columns that can be filtered, days as days.
pub fn workbook(tables: &[Table]) -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    let head = Format::new().set_bold().set_border_bottom(FormatBorder::Thin);
    for table in tables {
        let sheet = book.add_worksheet();
        sheet.set_name(table.name)?.set_freeze_panes(1, 0)?;
        for (column, text) in (0_u16..).zip(&table.heads) {
            sheet.write_with_format(0, column, *text, &head)?;
        }
        for (row, cells) in (1_u32..).zip(&table.rows) {
            for (column, cell) in (0_u16..).zip(cells) {
                write(sheet, (row, column), cell)?;
            }
        }
        if let (Some(last), false) = (table.heads.len().checked_sub(1), table.rows.is_empty()) {
            sheet.autofilter(0, 0, table.rows.len() as u32, last as u16)?;
        }
        sheet.autofit();
    }
    book.save_to_buffer()
}

fn write(sheet: &mut Worksheet, (row, column): (u32, u16), cell: &Cell) -> Result<(), XlsxError> {
    match cell {
        Cell::Nothing => {}
        Cell::Text(text) => {
            // As a text it is never taken for a formula.
            let text: String = text.chars().take(LONGEST).collect();
            sheet.write_string(row, column, text)?;
        }
        Cell::Number(number) => {
            sheet.write_number(row, column, *number)?;
        }
        Cell::Day(day) => {
            sheet.write_datetime_with_format(row, column, day, &Format::new().set_num_format("yyyy-mm-dd"))?;
        }
        Cell::Moment(at) => {
            let format = Format::new().set_num_format("yyyy-mm-dd hh:mm");
            sheet.write_datetime_with_format(row, column, at, &format)?;
        }
    }
    Ok(())
}
