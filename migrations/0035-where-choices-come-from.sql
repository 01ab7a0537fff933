-- The records behind a rate are found however it is told apart.
ALTER TABLE consent_record
  ADD KEY by_language (site_id, language, at, id),
  ADD KEY by_device (site_id, device, at, id),
  ADD KEY by_page (site_id, page_group, at, id);
