//! The archives of tables, written by `kandrel-nulls make`; do not edit.

pub(super) static ARCHIVES: [&[u8]; 16] = [
    include_bytes!("classic.tables"),
    include_bytes!("pp.tables"),
    include_bytes!("rules.tables"),
    include_bytes!("gls.tables"),
    include_bytes!("breaks.tables"),
    include_bytes!("onebreak.tables"),
    include_bytes!("twobreaks.tables"),
    include_bytes!("twobreaksbyaic.tables"),
    include_bytes!("breaksbyaic.tables"),
    include_bytes!("quarterlybyaic.tables"),
    include_bytes!("monthlybyaic.tables"),
    include_bytes!("stability.tables"),
    include_bytes!("quarterly.tables"),
    include_bytes!("monthly.tables"),
    include_bytes!("residual.tables"),
    include_bytes!("system.tables"),
];
