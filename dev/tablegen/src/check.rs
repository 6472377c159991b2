pub fn check(_draws: usize) -> Result<(), String> {
    Ok(())
}
