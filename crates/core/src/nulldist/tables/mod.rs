//! The tables by family, written by `kandrel-nulls make`; do not edit.

use super::family::Family;
use super::surface::Surface;

mod adf_constant_aic;
mod adf_constant_bic;
mod adf_constant_given;
mod adf_constant_hq;
mod adf_constant_maic;
mod adf_constant_t;
mod adf_none_aic;
mod adf_none_bic;
mod adf_none_given;
mod adf_none_hq;
mod adf_none_maic;
mod adf_none_t;
mod adf_phi1;
mod adf_phi2;
mod adf_phi3;
mod adf_terms_by_data_aic;
mod adf_terms_by_data_bic;
mod adf_terms_by_data_given;
mod adf_terms_by_data_hq;
mod adf_trend_aic;
mod adf_trend_bic;
mod adf_trend_given;
mod adf_trend_hq;
mod adf_trend_maic;
mod adf_trend_t;
mod gls_tau_constant_given;
mod gls_tau_constant_maic;
mod gls_tau_trend_given;
mod gls_tau_trend_maic;
mod kpss_constant_automatic;
mod kpss_constant_given;
mod kpss_trend_automatic;
mod kpss_trend_given;
mod lagrange_both_one;
mod lagrange_both_one_aic;
mod lagrange_both_two;
mod lagrange_intercept_one;
mod lagrange_intercept_one_aic;
mod lagrange_intercept_two;
mod mz_t_constant_given;
mod mz_t_constant_maic;
mod mz_t_trend_given;
mod mz_t_trend_maic;
mod point_optimal_constant_given;
mod point_optimal_constant_maic;
mod point_optimal_trend_given;
mod point_optimal_trend_maic;
mod pp_rho_constant;
mod pp_rho_none;
mod pp_rho_trend;
mod pp_tau_constant;
mod pp_tau_none;
mod pp_tau_trend;
mod roots_12_all_dummies;
mod roots_12_all_dummies_aic;
mod roots_12_all_trend;
mod roots_12_all_trend_aic;
mod roots_12_pair_dummies;
mod roots_12_pair_dummies_aic;
mod roots_12_pair_trend;
mod roots_12_pair_trend_aic;
mod roots_12_seasonal_dummies;
mod roots_12_seasonal_dummies_aic;
mod roots_12_seasonal_trend;
mod roots_12_seasonal_trend_aic;
mod roots_12_shortest_dummies;
mod roots_12_shortest_dummies_aic;
mod roots_12_shortest_trend;
mod roots_12_shortest_trend_aic;
mod roots_12_zero_dummies;
mod roots_12_zero_dummies_aic;
mod roots_12_zero_trend;
mod roots_12_zero_trend_aic;
mod roots_4_all_dummies;
mod roots_4_all_dummies_aic;
mod roots_4_all_trend;
mod roots_4_all_trend_aic;
mod roots_4_pair_dummies;
mod roots_4_pair_dummies_aic;
mod roots_4_pair_trend;
mod roots_4_pair_trend_aic;
mod roots_4_seasonal_dummies;
mod roots_4_seasonal_dummies_aic;
mod roots_4_seasonal_trend;
mod roots_4_seasonal_trend_aic;
mod roots_4_shortest_dummies;
mod roots_4_shortest_dummies_aic;
mod roots_4_shortest_trend;
mod roots_4_shortest_trend_aic;
mod roots_4_zero_dummies;
mod roots_4_zero_dummies_aic;
mod roots_4_zero_trend;
mod roots_4_zero_trend_aic;
mod stability_12_pair_constant;
mod stability_12_pair_trend;
mod stability_12_seasonal_constant;
mod stability_12_seasonal_trend;
mod stability_12_shortest_constant;
mod stability_12_shortest_trend;
mod stability_4_pair_constant;
mod stability_4_pair_trend;
mod stability_4_seasonal_constant;
mod stability_4_seasonal_trend;
mod stability_4_shortest_constant;
mod stability_4_shortest_trend;
mod zivot_andrews_both;
mod zivot_andrews_both_aic;
mod zivot_andrews_intercept;
mod zivot_andrews_intercept_aic;
mod zivot_andrews_trend;
mod zivot_andrews_trend_aic;

pub(super) fn find(family: Family) -> Option<&'static Surface> {
    match family.name().as_str() {
        "adf_none_given" => Some(&adf_none_given::SURFACE),
        "adf_none_aic" => Some(&adf_none_aic::SURFACE),
        "adf_none_bic" => Some(&adf_none_bic::SURFACE),
        "adf_none_hq" => Some(&adf_none_hq::SURFACE),
        "adf_constant_given" => Some(&adf_constant_given::SURFACE),
        "adf_constant_aic" => Some(&adf_constant_aic::SURFACE),
        "adf_constant_bic" => Some(&adf_constant_bic::SURFACE),
        "adf_constant_hq" => Some(&adf_constant_hq::SURFACE),
        "adf_trend_given" => Some(&adf_trend_given::SURFACE),
        "adf_trend_aic" => Some(&adf_trend_aic::SURFACE),
        "adf_trend_bic" => Some(&adf_trend_bic::SURFACE),
        "adf_trend_hq" => Some(&adf_trend_hq::SURFACE),
        "adf_terms_by_data_given" => Some(&adf_terms_by_data_given::SURFACE),
        "adf_terms_by_data_aic" => Some(&adf_terms_by_data_aic::SURFACE),
        "adf_terms_by_data_bic" => Some(&adf_terms_by_data_bic::SURFACE),
        "adf_terms_by_data_hq" => Some(&adf_terms_by_data_hq::SURFACE),
        "kpss_constant_given" => Some(&kpss_constant_given::SURFACE),
        "kpss_constant_automatic" => Some(&kpss_constant_automatic::SURFACE),
        "kpss_trend_given" => Some(&kpss_trend_given::SURFACE),
        "kpss_trend_automatic" => Some(&kpss_trend_automatic::SURFACE),
        "adf_none_maic" => Some(&adf_none_maic::SURFACE),
        "adf_constant_maic" => Some(&adf_constant_maic::SURFACE),
        "adf_trend_maic" => Some(&adf_trend_maic::SURFACE),
        "adf_none_t" => Some(&adf_none_t::SURFACE),
        "adf_constant_t" => Some(&adf_constant_t::SURFACE),
        "adf_trend_t" => Some(&adf_trend_t::SURFACE),
        "adf_phi1" => Some(&adf_phi1::SURFACE),
        "adf_phi2" => Some(&adf_phi2::SURFACE),
        "adf_phi3" => Some(&adf_phi3::SURFACE),
        "pp_rho_none" => Some(&pp_rho_none::SURFACE),
        "pp_rho_constant" => Some(&pp_rho_constant::SURFACE),
        "pp_rho_trend" => Some(&pp_rho_trend::SURFACE),
        "pp_tau_none" => Some(&pp_tau_none::SURFACE),
        "pp_tau_constant" => Some(&pp_tau_constant::SURFACE),
        "pp_tau_trend" => Some(&pp_tau_trend::SURFACE),
        "gls_tau_constant_given" => Some(&gls_tau_constant_given::SURFACE),
        "gls_tau_constant_maic" => Some(&gls_tau_constant_maic::SURFACE),
        "gls_tau_trend_given" => Some(&gls_tau_trend_given::SURFACE),
        "gls_tau_trend_maic" => Some(&gls_tau_trend_maic::SURFACE),
        "point_optimal_constant_given" => Some(&point_optimal_constant_given::SURFACE),
        "point_optimal_constant_maic" => Some(&point_optimal_constant_maic::SURFACE),
        "point_optimal_trend_given" => Some(&point_optimal_trend_given::SURFACE),
        "point_optimal_trend_maic" => Some(&point_optimal_trend_maic::SURFACE),
        "mz_t_constant_given" => Some(&mz_t_constant_given::SURFACE),
        "mz_t_constant_maic" => Some(&mz_t_constant_maic::SURFACE),
        "mz_t_trend_given" => Some(&mz_t_trend_given::SURFACE),
        "mz_t_trend_maic" => Some(&mz_t_trend_maic::SURFACE),
        "zivot_andrews_intercept" => Some(&zivot_andrews_intercept::SURFACE),
        "zivot_andrews_trend" => Some(&zivot_andrews_trend::SURFACE),
        "zivot_andrews_both" => Some(&zivot_andrews_both::SURFACE),
        "zivot_andrews_intercept_aic" => Some(&zivot_andrews_intercept_aic::SURFACE),
        "zivot_andrews_trend_aic" => Some(&zivot_andrews_trend_aic::SURFACE),
        "zivot_andrews_both_aic" => Some(&zivot_andrews_both_aic::SURFACE),
        "lagrange_intercept_one" => Some(&lagrange_intercept_one::SURFACE),
        "lagrange_both_one" => Some(&lagrange_both_one::SURFACE),
        "lagrange_intercept_two" => Some(&lagrange_intercept_two::SURFACE),
        "lagrange_both_two" => Some(&lagrange_both_two::SURFACE),
        "lagrange_intercept_one_aic" => Some(&lagrange_intercept_one_aic::SURFACE),
        "lagrange_both_one_aic" => Some(&lagrange_both_one_aic::SURFACE),
        "roots_4_zero_dummies" => Some(&roots_4_zero_dummies::SURFACE),
        "roots_4_zero_trend" => Some(&roots_4_zero_trend::SURFACE),
        "roots_4_zero_dummies_aic" => Some(&roots_4_zero_dummies_aic::SURFACE),
        "roots_4_zero_trend_aic" => Some(&roots_4_zero_trend_aic::SURFACE),
        "roots_4_shortest_dummies" => Some(&roots_4_shortest_dummies::SURFACE),
        "roots_4_shortest_trend" => Some(&roots_4_shortest_trend::SURFACE),
        "roots_4_shortest_dummies_aic" => Some(&roots_4_shortest_dummies_aic::SURFACE),
        "roots_4_shortest_trend_aic" => Some(&roots_4_shortest_trend_aic::SURFACE),
        "roots_4_pair_dummies" => Some(&roots_4_pair_dummies::SURFACE),
        "roots_4_pair_trend" => Some(&roots_4_pair_trend::SURFACE),
        "roots_4_pair_dummies_aic" => Some(&roots_4_pair_dummies_aic::SURFACE),
        "roots_4_pair_trend_aic" => Some(&roots_4_pair_trend_aic::SURFACE),
        "roots_4_seasonal_dummies" => Some(&roots_4_seasonal_dummies::SURFACE),
        "roots_4_seasonal_trend" => Some(&roots_4_seasonal_trend::SURFACE),
        "roots_4_seasonal_dummies_aic" => Some(&roots_4_seasonal_dummies_aic::SURFACE),
        "roots_4_seasonal_trend_aic" => Some(&roots_4_seasonal_trend_aic::SURFACE),
        "roots_4_all_dummies" => Some(&roots_4_all_dummies::SURFACE),
        "roots_4_all_trend" => Some(&roots_4_all_trend::SURFACE),
        "roots_4_all_dummies_aic" => Some(&roots_4_all_dummies_aic::SURFACE),
        "roots_4_all_trend_aic" => Some(&roots_4_all_trend_aic::SURFACE),
        "stability_4_shortest_constant" => Some(&stability_4_shortest_constant::SURFACE),
        "stability_4_shortest_trend" => Some(&stability_4_shortest_trend::SURFACE),
        "stability_4_pair_constant" => Some(&stability_4_pair_constant::SURFACE),
        "stability_4_pair_trend" => Some(&stability_4_pair_trend::SURFACE),
        "stability_4_seasonal_constant" => Some(&stability_4_seasonal_constant::SURFACE),
        "stability_4_seasonal_trend" => Some(&stability_4_seasonal_trend::SURFACE),
        "roots_12_zero_dummies" => Some(&roots_12_zero_dummies::SURFACE),
        "roots_12_zero_trend" => Some(&roots_12_zero_trend::SURFACE),
        "roots_12_zero_dummies_aic" => Some(&roots_12_zero_dummies_aic::SURFACE),
        "roots_12_zero_trend_aic" => Some(&roots_12_zero_trend_aic::SURFACE),
        "roots_12_shortest_dummies" => Some(&roots_12_shortest_dummies::SURFACE),
        "roots_12_shortest_trend" => Some(&roots_12_shortest_trend::SURFACE),
        "roots_12_shortest_dummies_aic" => Some(&roots_12_shortest_dummies_aic::SURFACE),
        "roots_12_shortest_trend_aic" => Some(&roots_12_shortest_trend_aic::SURFACE),
        "roots_12_pair_dummies" => Some(&roots_12_pair_dummies::SURFACE),
        "roots_12_pair_trend" => Some(&roots_12_pair_trend::SURFACE),
        "roots_12_pair_dummies_aic" => Some(&roots_12_pair_dummies_aic::SURFACE),
        "roots_12_pair_trend_aic" => Some(&roots_12_pair_trend_aic::SURFACE),
        "roots_12_seasonal_dummies" => Some(&roots_12_seasonal_dummies::SURFACE),
        "roots_12_seasonal_trend" => Some(&roots_12_seasonal_trend::SURFACE),
        "roots_12_seasonal_dummies_aic" => Some(&roots_12_seasonal_dummies_aic::SURFACE),
        "roots_12_seasonal_trend_aic" => Some(&roots_12_seasonal_trend_aic::SURFACE),
        "roots_12_all_dummies" => Some(&roots_12_all_dummies::SURFACE),
        "roots_12_all_trend" => Some(&roots_12_all_trend::SURFACE),
        "roots_12_all_dummies_aic" => Some(&roots_12_all_dummies_aic::SURFACE),
        "roots_12_all_trend_aic" => Some(&roots_12_all_trend_aic::SURFACE),
        "stability_12_shortest_constant" => Some(&stability_12_shortest_constant::SURFACE),
        "stability_12_shortest_trend" => Some(&stability_12_shortest_trend::SURFACE),
        "stability_12_pair_constant" => Some(&stability_12_pair_constant::SURFACE),
        "stability_12_pair_trend" => Some(&stability_12_pair_trend::SURFACE),
        "stability_12_seasonal_constant" => Some(&stability_12_seasonal_constant::SURFACE),
        "stability_12_seasonal_trend" => Some(&stability_12_seasonal_trend::SURFACE),
        _ => None,
    }
}
