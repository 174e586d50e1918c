"""What each number of a calculation or a document is: its kind of quantity by the field's name, declared here, nowhere guessed.

Names carry their unit as an ending (`_c`, `_pa`, `_m3s` ...), but an ending does not tell a duct's side from the way to a site. A
field that is not declared here is refused when its calculation is described, and a test describes them all.
"""

from __future__ import annotations

from fentro_core.base.units import KINDS

_NAMES: dict[str, str] = {
    "temperature": """
        dry_bulb_c wet_bulb_c dew_point_c wanted_c supply_limit_c
        mixed_return_c return_dry_bulb_c outdoor_dry_bulb_c mixed_dry_bulb_c supply_dry_bulb_c
        leaving_dry_bulb_c return_wet_bulb_c apparatus_dew_point_c dry_bulb_limit_c liquid_line_c suction_line_c return_c
        outdoor_c mixed_c supply_c today_c value_c shown_c probe_c reference_c temperature_c limit_c setpoint_c low_c high_c
        mixed_aim_c free_from_c
        free_up_to_c cooling_from_c heating_below_c cooling_setpoint_c heating_setpoint_c supply_setpoint_c high_limit_c
        mixed_low_limit_c freeze_c max_outlet_c room_c dew_point_limit_c floor_c air_c mass_c target_c coldest_c wake_c
        planned_c forecast_c course_c expected_c dew_points_c needed_c water_c after_c
    """,
    "temperature_difference": """
        split_k rise_k error_k superheat_k target_superheat_k subcooling_k differential_k margin_k margin_limit_k
        margin_setpoint_k swing_k misfit_k plus_minus_k reference_plus_minus_k rise_low_k rise_high_k fan_k
    """,
    "relative_humidity": "relative_humidity outdoor_rh return_rh indoor_rh leaving_rh wanted_rh",
    "volume": "room_m3",
    "humidity_ratio": """
        humidity_ratio drift_ratio excess_humidity_ratio leaving_humidity_ratio highest_ratio supply_ratio
        needed_ratio
    """,
    "share": """
        outdoor_share wanted_share share share_before share_after share_by_heat share_by_moisture capacity_share_lost
        derate_share heating_efficiency
        position minimum_position stages low high chance compressed register_open takes_away least_open exact_open was_open
        missed_share missed_made_up_share recovered_share solar_to_mass speeds most_speed
        on_share bypass_share most_bypass least_air air_share run_share kept_share mass_plus_minus outside_plus_minus
    """,
    "ratio": """
        sensible_heat_ratio rated_sensible_heat_ratio bypass_factor rated_bypass_factor misfit_best misfit_claimed x y
        loop_gain_per_k_s angle_deg days more_loss damper_deg loss times times_low times_high exact_deg was_deg
        weather_factor minutes minutes_per_hour set_minutes step_min cycle_h effectiveness occupants diversity
        system_effectiveness
        cop cop_at_35 better_per_k on_min off_min least_run_min cycles_per_hour boost_min mass_times outside_times whole_hours
    """,
    "enthalpy": "enthalpy_j_per_kg high_limit_j_per_kg",
    "enthalpy_difference": "margin_difference_j_per_kg",
    "specific_volume": "specific_volume_m3_per_kg",
    "density": "density_kg_per_m3",
    "airflow": """
        airflow_m3s rated_airflow_m3s registers_m3s required_m3s supply_m3s leak_at_25pa_m3s leak_m3s_from_heat
        register_m3s cooling_design_m3s heating_design_m3s at_m3s held_m3s
        whole_m3s leaks_m3s measured_m3s gives_m3s lacks_m3s per_person_m3s blower_door_m3s breathing_m3s zone_m3s
        uncorrected_m3s outdoor_m3s full_m3s net_m3s exhaust_m3s plus_minus_m3s
        infiltration_m3s duct_leak_m3s bypass_m3s blower_m3s taken_m3s total_m3s lost_m3s total_before_m3s total_after_m3s
    """,
    "mass_flow": "dry_air_kg_per_s",
    "water_rate": """
        water_kg_per_s gained_kg_per_s net_kg_per_s removed_kg_per_s process_kg_per_s room_water_kg_per_s brought_kg_per_s
        unexplained_kg_per_s from_outdoor_kg_per_s from_leaks_kg_per_s from_duct_kg_per_s from_people_kg_per_s
        from_wet_kg_per_s from_process_kg_per_s
    """,
    "water_mass": "condensate_kg plus_minus_kg lost_kg holds_kg",
    "leakage_rate": "limit_m3s_per_m2 area_rate_m3s_per_m2",
    "velocity": "mean_velocity_m_per_s velocities_m_per_s velocity_m_per_s limit_m_per_s",
    "power": """
        total_w sensible_w latent_w heat_w rated_total_w rated_heating_w plate_input_w gas_input_w heating_input_w wall_gain_w
        leak_load_w drawn_in_w given_w room_load_w room_sensible_w capacity_w gains_w solar_w rejected_w reheat_w full_heat_w
        heater_w
    """,
    "electric_power": "fan_power_w interlock_w full_w power_w fan_w",
    "apparent_power": "damper_va board_va control_va need_va rated_va load_va spare_va",
    "voltage": "supply_v drop_v volts",
    "pressure": """
        building_pa
        drop_pa static_pa external_static_pa supply_static_pa return_static_pa relief_opens_pa max_external_static_pa
        filter_change_pa register_pa friction_pa dynamic_pa plenum_pa pressure_before_pa pressure_at_end_pa port_pa plus_minus_pa
    """,
    "refrigerant_pressure": "liquid_gauge_pa suction_gauge_pa",
    "barometric_pressure": "pressure_pa barometer_pa",
    "length": """
        cable_m one_way_m
        elevation_m length_m perimeter_m run_m after_m before_m least_m exhaust_m flue_m plumbing_vent_m cooking_m
    """,
    "depth": "width_m height_m diameter_m bypass_diameter_m equal_diameter_m wall_m depth_m mark_m along_m",
    "door": "door_width_m door_height_m handle_from_edge_m",
    "area": "floor_area_m2 wet_area_m2",
    "duct_area": "area_m2 face_area_m2",
    "opening": "opening_area_m2",
    "thermal_resistance": "resistance_m2k_per_w",
    "force": "force_n",
    "resistance": "resistance_ohm",
    "current": "compressor_current_a",
    "duration": "settles_in_s already_s",
    "hours": "compressor_s saved_s",
    "energy": "heating_j cooling_j drying_j fan_j compressor_j saved_j spared_j",
    "heat_capacity": "air_j_per_k mass_j_per_k",
    "heat_per_kelvin": "coupling_w_per_k outside_w_per_k",
    "seconds": "seconds times_s window_s at_s allowed_s reached_s freeze_delay_s",
    "as_given": """
        value values mean spread offset scatter scatter_plus_minus plus_minus usual_plus_minus ask_over repeatability resolution
        last_digit
        slope_per_10min slope_plus_minus first second first_accuracy second_accuracy combined_accuracy change change_per_year
        change_plus_minus number slope_m3s_per_pa too_warm_kh hold then
    """,
}

FIELDS: dict[str, str] = {name: kind for kind, names in _NAMES.items() for name in names.split()}


def kind_of(name: str) -> str:
    """The kind of quantity that a field holds.

    Raises
    ------
    LookupError
        Nobody declared it.

    >>> kind_of("dry_bulb_c"), kind_of("enthalpy_j_per_kg"), kind_of("pressure_pa")
    ('temperature', 'enthalpy', 'barometric_pressure')
    """
    if name not in FIELDS:
        raise LookupError(f"Declare the kind of {name} in fentro_core/base/fields.py.")
    return FIELDS[name]


def most_of(name: str) -> float:
    """The largest size of a number of this name that is taken at all; what is no field (a label) has a generous one."""
    kind = FIELDS.get(name)
    return KINDS[kind].most if kind else 1e12
