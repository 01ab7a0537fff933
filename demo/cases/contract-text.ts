/** An agreement on processing as a vendor wrote it. It says nothing of audits, nor of instructions that are against the law. */
export const CONTRACT = `Agreement on the processing of personal data
between Brindle Strait Ferries (the customer) and {vendor}

1. Annex A sets out the subject matter and duration of the processing, its nature and purpose, the types of personal data and the categories of data subjects.

2. {vendor} processes personal data only on documented instructions of the customer, unless the law requires otherwise.

3. Employees who have access are bound to confidentiality by contract.

4. {vendor} takes the technical and organisational measures of Annex B, so that the level of security is appropriate to the risk (Art. 32).

5. The customer gives general written authorisation to engage other processors. {vendor} informs the customer thirty days before one is added or replaced; the customer may object.

6. The same data protection obligations are imposed on any other processor, and {vendor} remains fully liable to the customer for its performance.

7. {vendor} assists the customer in responding to requests of data subjects who exercise their rights.

8. It assists with impact assessments, prior consultation and the obligations of Articles 32 to 36.

9. {vendor} notifies the customer without undue delay, and within 24 hours, after becoming aware of a personal data breach.

10. After the end of the services {vendor} deletes or returns all personal data, as the customer chooses, and deletes existing copies.

11. A transfer to a third country takes place only on the basis of an adequacy decision or of the standard contractual clauses of the Commission.

12. Fees are set out in Annex C and are due within thirty days.
`;
