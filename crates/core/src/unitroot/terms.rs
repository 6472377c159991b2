pub struct TermsChoice; pub struct TermsReason; pub fn choose_terms() {}
